import type { FrameHeader } from "../api/frame";

/**
 * A cloth of a million loose points is more than the wire and the graphics card carry many times a
 * second; while it moves, only every so many of its points are asked for.
 */
const DRAWN_WHILE_MOVING = 250_000;
/** Where the processor draws, which also computes them. */
const DRAWN_IN_SOFTWARE = 40_000;

/** Whether the processor draws, for want of a graphics card. */
export const drawing = { inSoftware: false };

const loose = new Map<string, number>();

/** Note how many loose points a piece has. */
export function noteLoose(study: string, piece: string, header: FrameHeader) {
  const alone = header.faces === 0 && header.curves === 0;
  loose.set(`${study}/${piece}`, alone ? header.points : 0);
}

/** Of how many points one is asked for. */
export function strideOf(study: string, piece: string, moving: boolean): number {
  if (!moving) return 1;
  const most = drawing.inSoftware ? DRAWN_IN_SOFTWARE : DRAWN_WHILE_MOVING;
  return Math.max(1, Math.ceil((loose.get(`${study}/${piece}`) ?? 0) / most));
}

/** Times the mean spacing at which round points leave no gaps. */
const CLOSE = 1.7;

/**
 * The diameter of points, in metres, where their look asks for a thickness.
 *
 * Where some are left out the others are drawn larger, as far as closes the gaps: points that overlap
 * many times would be drawn many times over. Without a graphics card that holds for all of them.
 */
export function pointSize(thickness: number, header: FrameHeader): number {
  const { points, drawn, faces, curves, low, high } = header;
  if (faces > 0 || curves > 0 || drawn === 0) return thickness;
  const [, wide, long] = high.map((h, k) => h - low[k]).sort((a, b) => a - b);
  const closed = CLOSE * Math.sqrt((wide * long) / drawn);
  if (drawn < points) {
    const grown = thickness * Math.sqrt(points / drawn);
    return Math.min(grown, Math.max(thickness, closed));
  }
  return drawing.inSoftware && drawn > DRAWN_IN_SOFTWARE ? Math.min(thickness, closed) : thickness;
}
