import { describe, expect, it } from "vitest";
import { moved } from "./gridMove";

describe("choosing by arrow keys", () => {
  const sizes = [5, 2];
  it("goes on to the next group and stops at both ends", () => {
    expect(moved(sizes, 4, 1, 4)).toBe(5);
    expect(moved(sizes, 6, 1, 4)).toBe(6);
    expect(moved(sizes, 0, -1, 4)).toBe(0);
  });
  it("keeps its column from row to row where there is one", () => {
    expect(moved(sizes, 1, 4, 4)).toBe(4);
    expect(moved(sizes, 4, 4, 4)).toBe(5);
    expect(moved(sizes, 6, -4, 4)).toBe(4);
    expect(moved(sizes, 3, -4, 4)).toBe(3);
  });
  it("has nowhere to go where nothing is found", () => {
    expect(moved([], 0, 4, 4)).toBe(0);
  });
});
