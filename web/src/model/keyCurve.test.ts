import { describe, expect, it } from "vitest";
import { curvePoints, tangentsOf, valueAt } from "./keyCurve";

const keys = [
  { frame: 0, value: 1 },
  { frame: 50, value: 3, out: 0.1 },
  { frame: 130, value: 2, ease: "linear" as const },
  { frame: 240, value: 1 },
];

describe("the curve through keys", () => {
  it("is the one that the server computes", () => {
    // sample_number of these keys, which repeat, at frames 10, 70, 180 and 240.
    const found = [10, 70, 180, 240].map((f) => valueAt(keys, tangentsOf(keys, true), f));
    expect(found.map((v) => Number(v.toFixed(6)))).toEqual([1.208, 4.008554, 1.545455, 1]);
  });
  it("has the same slope on both sides of the join where keys repeat", () => {
    const tangents = tangentsOf(keys, true);
    expect(tangents[0].out).toBeCloseTo(tangents[3].in, 12);
  });
  it("is drawn with upright steps", () => {
    const held = [
      { frame: 0, value: 0, ease: "held" as const },
      { frame: 10, value: 5 },
    ];
    const points = curvePoints(held, false, 0, 10, 2);
    expect(points.filter(([f]) => Math.abs(f - 10) < 1e-3).map(([, v]) => v)).toEqual([0, 5, 5]);
  });
});
