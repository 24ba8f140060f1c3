import { describe, expect, it } from "vitest";
import { facingTriangles } from "./facing";

// A tetrahedron in a box of 2 × 4 × 1 m, its faces counter-clockwise seen from outside.
const shares = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const packed = new Uint16Array(shares.flatMap((p) => [...p.map((v) => v * 65535), 0]));
const triangles = new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]);
const low = [-1, 0, 0];
const high = [1, 4, 1];

function facing(eye: number[]): number[][] {
  const out = new Uint32Array(12);
  const count = facingTriangles(packed, low, high, triangles, eye, out);
  const found = [];
  for (let t = 0; t < count; t += 3) found.push([...out.slice(t, t + 3)]);
  return found;
}

describe("facingTriangles", () => {
  it("keeps only the slanted face where the eye is out beyond it", () => {
    expect(facing([20, 20, 20])).toEqual([[1, 2, 3]]);
  });
  it("keeps the bottom for an eye below", () => {
    expect(facing([-0.9, 0.2, -9])).toEqual([[0, 2, 1]]);
  });
  it("keeps nothing for an eye inside", () => {
    expect(facing([-0.8, 0.3, 0.1])).toEqual([]);
  });
});
