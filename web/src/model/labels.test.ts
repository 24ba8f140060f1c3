import { describe, expect, it } from "vitest";
import { CELL, placed, readNumbers } from "./labels";

/** Looks along -z: x and y from -1 to 1 are the view, and what has the greater z is nearer. */
const FLAT = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1];
const AHEAD = { towards: [0, 0, 1] };

function numbers(places: number[][], normals: number[][] = []) {
  return {
    values: new Float32Array(places.length),
    places: new Float32Array(places.flat()),
    normals: new Float32Array(normals.flat()),
  };
}

describe("numbers on the stage", () => {
  it("are read as they are sent: values, places, normals", () => {
    const data = new ArrayBuffer(8 + 4 * 14);
    new Uint32Array(data, 0, 2).set([2, 1]);
    new Float32Array(data, 8).set(Array.from({ length: 14 }, (_, k) => k));
    const found = readNumbers(data);
    expect([...found.values]).toEqual([0, 1]);
    expect([...found.places]).toEqual([2, 3, 4, 5, 6, 7]);
    expect([...found.normals]).toEqual([8, 9, 10, 11, 12, 13]);
    new Uint32Array(data, 0, 2).set([2, 0]);
    expect(readNumbers(data).normals).toHaveLength(0);
  });

  it("stand where their elements are seen", () => {
    const found = placed(numbers([[0.5, -0.5, 0]]), FLAT, AHEAD, 400, 300);
    expect(found).toEqual([{ index: 0, x: 300, y: 225 }]);
  });

  it("of two at the same place the nearer one is written", () => {
    const two = numbers([
      [0, 0, -0.5],
      [0, 0, 0.5],
    ]);
    expect(placed(two, FLAT, AHEAD, 400, 300).map((l) => l.index)).toEqual([1]);
  });

  it("what faces away, or lies out of the view, is left out", () => {
    const away = numbers([[0, 0, 0]], [[0, 0, -1]]);
    expect(placed(away, FLAT, AHEAD, 400, 300)).toEqual([]);
    expect(placed(away, FLAT, { at: [0, 0, -9] }, 400, 300)).toHaveLength(1);
    expect(placed(numbers([[1.5, 0, 0]]), FLAT, AHEAD, 400, 300)).toEqual([]);
  });

  it("none lies over another, however many there are", () => {
    const many = numbers(
      Array.from({ length: 5000 }, (_, k) => [
        Math.sin(k * 12.9898) * 0.99,
        Math.sin(k * 78.233) * 0.99,
        0,
      ]),
    );
    const found = placed(many, FLAT, AHEAD, 900, 500);
    expect(found.length).toBeGreaterThan(100);
    found.forEach((a, k) =>
      found.slice(k + 1).forEach((b) => {
        const over =
          Math.abs(a.x - b.x) < CELL.width * 0.8 && Math.abs(a.y - b.y) < CELL.height * 0.8;
        expect(over).toBe(false);
      }),
    );
  });
});
