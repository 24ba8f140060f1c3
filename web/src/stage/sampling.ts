/**
 * Where the samples of a picture lie whose mean it is: within a pixel, on the lens, and in time.
 */

/** One part of the golden ratio's generalisation to two dimensions: points that fill a square evenly
 * however many there are (M. Roberts, "The unreasonable effectiveness of quasirandom sequences",
 * 2018; from memory). */
const R2 = [0.7548776662466927, 0.5698402909980532] as const;
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

/** From the middle of a pixel, in pixels; of a single sample nothing. */
export function pixelShift(k: number, count: number): [number, number] {
  if (count <= 1) return [0, 0];
  return R2.map((step) => ((0.5 + step * (k + 1)) % 1) - 0.5) as [number, number];
}

/**
 * A place on a lens of radius 1, evenly over its opening (H. Vogel, "A better way to construct the
 * sunflower head", 1979).
 *
 * blades : of the opening, which is a polygon with its corners on the circle; 0 where it is round
 */
export function lensPlace(k: number, count: number, blades: number): [number, number] {
  if (count <= 1) return [0, 0];
  // Samples that follow each other in time lie apart on the lens.
  const own = scattered(k, count);
  const angle = own * GOLDEN_ANGLE;
  const radius = Math.sqrt((own + 0.5) / count) * (blades > 2 ? rim(angle, blades) : 1);
  return [radius * Math.cos(angle), radius * Math.sin(angle)];
}

/** How far the rim of a polygon is from its middle, in a direction. */
function rim(angle: number, blades: number): number {
  const wedge = (2 * Math.PI) / blades;
  const within = (((angle % wedge) + wedge) % wedge) - wedge / 2;
  return Math.cos(wedge / 2) / Math.cos(within);
}

/** A number of its own for each of some numbers, far from that of the next. */
export function scattered(k: number, count: number): number {
  let step = Math.max(1, Math.round(count * 0.618));
  while (common(step, count) !== 1) step += 1;
  return (k * step) % count;
}

function common(a: number, b: number): number {
  return b === 0 ? a : common(b, a % b);
}

/** The moment of a sample, in shares of the time that the shutter is open. */
export function shutterMoment(k: number, count: number): number {
  return count <= 1 ? 0 : k / count;
}
