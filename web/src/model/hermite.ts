/** Curves through given values that overshoot none of them, as the server has them: piecewise cubic, F. N. Fritsch and
 * J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984). */

function endSlope(h0: number, h1: number, d0: number, d1: number): number {
  const slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
  if (Math.sign(slope) !== Math.sign(d0)) return 0;
  if (Math.sign(d0) !== Math.sign(d1) && Math.abs(slope) > 3 * Math.abs(d0)) return 3 * d0;
  return slope;
}

/** Slope at each of the places t, in value per place. */
export function monotoneSlopes(t: number[], v: number[]): number[] {
  const n = t.length;
  if (n < 2) return t.map(() => 0);
  const h = t.slice(1).map((x, k) => x - t[k]);
  const d = h.map((x, k) => (v[k + 1] - v[k]) / x);
  if (n === 2) return [d[0], d[0]];
  return t.map((_, k) => {
    if (k === 0) return endSlope(h[0], h[1], d[0], d[1]);
    if (k === n - 1) return endSlope(h[n - 2], h[n - 3], d[n - 2], d[n - 3]);
    if (d[k - 1] * d[k] <= 0) return 0;
    const w1 = 2 * h[k] + h[k - 1];
    const w2 = h[k] + 2 * h[k - 1];
    return (w1 + w2) / (w1 / d[k - 1] + w2 / d[k]);
  });
}

/** The cubic through v at t with these slopes, level beyond its ends. */
export function hermiteAt(at: number, t: number[], v: number[], slopes: number[]): number {
  if (t.length === 1 || at <= t[0]) return v[0];
  const last = t.length - 1;
  if (at >= t[last]) return v[last];
  const k = t.findIndex((x, j) => j < last && at < t[j + 1] && at >= x);
  const h = t[k + 1] - t[k];
  const s = (at - t[k]) / h;
  return (
    (1 + 2 * s) * (1 - s) ** 2 * v[k] +
    s * (1 - s) ** 2 * h * slopes[k] +
    s ** 2 * (3 - 2 * s) * v[k + 1] +
    s ** 2 * (s - 1) * h * slopes[k + 1]
  );
}

export type Knot = [number, number];

/** A drawn profile as a function from 0 to 1. */
export function profileOf(knots: Knot[]): (t: number) => number {
  const ordered = [...new Map(knots).entries()].sort((a, b) => a[0] - b[0]);
  const t = ordered.map(([x]) => x);
  const v = ordered.map(([, y]) => y);
  const slopes = monotoneSlopes(t, v);
  return (at) => Math.min(1, Math.max(0, hermiteAt(at, t, v, slopes)));
}
