/** How frames lie on the ring. oneWay : the ring is an arc, open between its last frame and its first */
export interface Dial {
  frames: number;
  oneWay: boolean;
}

/** How much of the circle stays open, in radians. */
const GAP = 0.7;

function angleOf(frame: number, { frames, oneWay }: Dial): number {
  const share = frame / frames;
  return oneWay ? GAP / 2 + share * (2 * Math.PI - GAP) : share * 2 * Math.PI;
}

/** Where a frame lies, from the middle: x to the right, y downwards; frame 0 is at the top. */
export function placeOn(frame: number, dial: Dial, radius: number): [number, number] {
  const angle = angleOf(frame, dial);
  return [radius * Math.sin(angle), -radius * Math.cos(angle)];
}

/** The frame that lies in a direction from the middle. */
export function frameAt(x: number, y: number, dial: Dial): number {
  const { frames, oneWay } = dial;
  const angle = (Math.atan2(x, -y) + 2 * Math.PI) % (2 * Math.PI);
  if (!oneWay) return Math.round((angle / (2 * Math.PI)) * frames) % frames;
  const share = (angle - GAP / 2) / (2 * Math.PI - GAP);
  return Math.min(Math.max(0, Math.round(share * frames)), frames - 1);
}

/** A stretch of frames as an SVG path. */
export function arcPath(from: number, to: number, dial: Dial, radius: number): string {
  const [x0, y0] = placeOn(from, dial, radius);
  const half = `A${radius} ${radius} 0 0 1`;
  // A whole circle has no arc of its own, so it is drawn as two.
  const [xm, ym] = placeOn((from + to) / 2, dial, radius);
  const [x1, y1] = placeOn(to, dial, radius);
  return `M${x0} ${y0}${half} ${xm} ${ym}${half} ${x1} ${y1}`;
}
