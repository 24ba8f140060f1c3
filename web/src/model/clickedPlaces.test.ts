import { describe, expect, it } from "vitest";
import { asSeen, placeUnder, withPlace } from "./clickedPlaces";

const place = (x: number, z = 0) => ({ at: [x, 0, z], normal: [0, 1, 0] });
const flat = ([x, , z]: number[]): [number, number] | null => (z < 0 ? null : [100 * x, 50]);

describe("places that are clicked", () => {
  it("has the nearest one under the pointer", () => {
    const places = [place(0), place(0.1), place(1)];
    expect(placeUnder(places, [8, 50], flat, 12)).toBe(1);
    expect(placeUnder(places, [2, 50], flat, 12)).toBe(0);
  });

  it("has none where none is near, or where it is behind the eye", () => {
    expect(placeUnder([place(0)], [13, 50], flat, 12)).toBe(-1);
    expect(placeUnder([place(0, -1)], [0, 50], flat, 12)).toBe(-1);
  });

  it("is seen where the surface has taken it", () => {
    const rest = new Float32Array([0, 0, 0, 1, 0, 0]);
    const points = new Float32Array([0, 5, 0, 1, 0, 7]);
    const seen = asSeen([place(0.1), place(0.9, 0.1)], rest, points);
    expect(seen.map((s) => s.at.map((v) => Number(v.toFixed(6))))).toEqual([
      [0.1, 5, 0],
      [0.9, 0, 7.1],
    ]);
    expect(asSeen([place(1)], new Float32Array(), new Float32Array())).toEqual([place(1)]);
  });

  it("adds a place, and moves one without touching the others", () => {
    const [one, two, other] = [place(0), place(1), place(2)];
    expect(withPlace([one], -1, two)).toEqual([one, two]);
    expect(withPlace([one, two], 0, other)).toEqual([other, two]);
  });
});
