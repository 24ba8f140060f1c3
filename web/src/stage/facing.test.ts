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
const outward = [0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3];
const low = [-1, 0, 0];
const high = [1, 4, 1];

function facing(eye: number[], triangles = outward) {
  const out = new Uint32Array(triangles.length);
  const found = facingTriangles(packed, low, high, new Uint32Array(triangles), eye, out);
  const chosen = [];
  for (let t = found.start; t < found.start + found.count; t += 3)
    chosen.push([...out.slice(t, t + 3)].sort().join(""));
  return { side: found.side, faces: chosen.sort() };
}

describe("facingTriangles", () => {
  it("keeps only the slanted face where the eye is out beyond it", () => {
    expect(facing([20, 20, 20])).toEqual({ side: 1, faces: ["123"] });
  });
  it("keeps the bottom for an eye below", () => {
    expect(facing([-0.9, 0.2, -9])).toEqual({ side: 1, faces: ["012"] });
  });
  it("keeps three faces for an eye beyond their corner", () => {
    expect(facing([-9, -9, -9])).toEqual({ side: 1, faces: ["012", "013", "023"] });
  });
  it("keeps nothing for an eye inside", () => {
    expect(facing([-0.8, 0.3, 0.1])).toEqual({ side: 1, faces: [] });
  });
  it("keeps the same faces of a surface turned inside out, and says that backs are seen", () => {
    const inward = [...outward].reverse();
    expect(facing([20, 20, 20], inward)).toEqual({ side: -1, faces: ["123"] });
    expect(facing([-9, -9, -9], inward)).toEqual({ side: -1, faces: ["012", "013", "023"] });
  });
});
