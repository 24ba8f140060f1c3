import { describe, expect, it } from "vitest";
import type { FrameHeader } from "../api/frame";
import { segmentEnds } from "./strokes";
import { drawing, strideOf, noteLoose, pointSize } from "./decimation";

describe("strokes", () => {
  it("take both ends of each segment from the points", () => {
    const points = new Uint16Array([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
    const ends = segmentEnds(points, new Uint32Array([2, 0]), new Uint16Array(8));
    expect([...ends]).toEqual([9, 10, 11, 12, 1, 2, 3, 4]);
  });
});

describe("thinning", () => {
  const note = (points: number, faces: number) =>
    noteLoose("s", "p", { points, faces, curves: 0 } as FrameHeader);
  it("leaves out loose points only, and only while something moves", () => {
    expect(strideOf("s", "unknown", true)).toBe(1);
    note(1_638_400, 0);
    expect(strideOf("s", "p", true)).toBe(7);
    expect(strideOf("s", "p", false)).toBe(1);
    drawing.inSoftware = true;
    expect(strideOf("s", "p", true)).toBe(41);
    drawing.inSoftware = false;
    note(1_638_400, 9);
    expect(strideOf("s", "p", true)).toBe(1);
  });
  const size = (thickness: number, points: number, drawn: number, faces = 0) =>
    pointSize(thickness, {
      points,
      drawn,
      faces,
      curves: 0,
      low: [-1, 0, -1],
      high: [1, 0.1, 1],
    } as FrameHeader);
  it("draws as much more of each point as fewer are drawn", () => {
    expect(size(0.001, 90_000, 10_000)).toBeCloseTo(0.003);
    expect(size(0.001, 900, 900)).toBe(0.001);
    expect(size(0.001, 0, 0)).toBe(0.001);
    expect(size(0.001, 90_000, 10_000, 5)).toBe(0.001);
  });
  it("draws them no larger than closes the gaps, nor smaller than they are", () => {
    // 10,000 points on 4 m² lie 2 cm apart.
    expect(size(0.02, 90_000, 10_000)).toBeCloseTo(0.034);
    expect(size(0.05, 90_000, 10_000)).toBe(0.05);
  });
  it("draws no point many times over where the processor draws", () => {
    expect(size(0.05, 1_000_000, 1_000_000)).toBe(0.05);
    drawing.inSoftware = true;
    expect(size(0.05, 1_000_000, 1_000_000)).toBeCloseTo(0.0034);
    expect(size(0.001, 1_000_000, 1_000_000)).toBe(0.001);
    expect(size(0.05, 1_000, 1_000)).toBe(0.05);
    drawing.inSoftware = false;
  });
});
