import type { Knot } from "./hermite";

/** How near two knots may come, as a share of the whole. */
const APART = 0.01;

const within = (v: number, low = 0, high = 1) => Math.min(high, Math.max(low, v));
const rounded = (v: number) => Math.round(v * 1000) / 1000;

/** One knot elsewhere; it keeps between its neighbours. Knots stand in order. */
export function moved(knots: Knot[], index: number, [x, y]: Knot): Knot[] {
  const before = index > 0 ? knots[index - 1][0] + APART : 0;
  const after = index < knots.length - 1 ? knots[index + 1][0] - APART : 1;
  const place: Knot = [rounded(within(x, before, after)), rounded(within(y))];
  return knots.map((knot, k) => (k === index ? place : knot));
}

/** One knot more, unless another is where it would stand. */
export function added(knots: Knot[], [x, y]: Knot): Knot[] {
  if (knots.some(([other]) => Math.abs(other - x) < APART)) return knots;
  const place: Knot = [rounded(within(x)), rounded(within(y))];
  return [...knots, place].sort((a, b) => a[0] - b[0]);
}

/** One knot less; the last one stays. */
export function removed(knots: Knot[], index: number): Knot[] {
  return knots.length > 1 ? knots.filter((_, k) => k !== index) : knots;
}
