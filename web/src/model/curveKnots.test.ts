import { describe, expect, it } from "vitest";
import { added, moved, removed } from "./curveKnots";
import { monotoneSlopes, profileOf, type Knot } from "./hermite";

const knots: Knot[] = [
  [0, 0],
  [0.5, 1],
  [1, 0.2],
];

describe("knots of a drawn profile", () => {
  it("keep between their neighbours", () => {
    expect(moved(knots, 1, [2, 2])).toEqual([
      [0, 0],
      [0.99, 1],
      [1, 0.2],
    ]);
    expect(moved(knots, 0, [-3, 0.5])[0]).toEqual([0, 0.5]);
  });
  it("are added in order, and never twice at one place", () => {
    expect(added(knots, [0.25, 0.3]).map(([x]) => x)).toEqual([0, 0.25, 0.5, 1]);
    expect(added(knots, [0.5, 0.3])).toBe(knots);
  });
  it("are taken away but for the last one", () => {
    expect(removed(knots, 1)).toHaveLength(2);
    expect(removed([[0, 1]], 0)).toHaveLength(1);
  });
});

describe("a drawn profile", () => {
  it("goes through its knots and overshoots none", () => {
    const shape = profileOf(knots);
    for (const [x, y] of knots) expect(shape(x)).toBeCloseTo(y, 9);
    for (let k = 0; k <= 100; k++) {
      expect(shape(k / 100)).toBeGreaterThanOrEqual(0);
      expect(shape(k / 100)).toBeLessThanOrEqual(1);
    }
  });
  it("has the slopes that the server has", () => {
    // monotone_slopes(t, v, False) of zygomorph/core/monotone.py for these values.
    const slopes = monotoneSlopes([0, 1, 3, 4], [0, 2, 3, 3]);
    expect(slopes.map((s) => Number(s.toFixed(6)))).toEqual([2.5, 0.857143, 0, 0]);
  });
});
