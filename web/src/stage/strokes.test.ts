import { describe, expect, it } from "vitest";
import { segmentEnds } from "./strokes";
import { everyOf, noteLoose, thinnedSize } from "./thinning";
import type { FrameHeader } from "../api/frame";

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
    expect(everyOf("s", "unknown", true)).toBe(1);
    note(1_638_400, 0);
    expect(everyOf("s", "p", true)).toBe(7);
    expect(everyOf("s", "p", false)).toBe(1);
    note(1_638_400, 9);
    expect(everyOf("s", "p", true)).toBe(1);
  });
  it("draws as much more of each point as fewer are drawn", () => {
    const size = (points: number, drawn: number) => thinnedSize({ points, drawn } as FrameHeader);
    expect(size(900, 100)).toBe(3);
    expect(size(900, 900)).toBe(1);
    expect(size(0, 0)).toBe(1);
  });
});
