import { describe, expect, it } from "vitest";
import { after, playRange } from "./playRange";

describe("the frames that play", () => {
  it("are all of them, or those of a range", () => {
    expect(playRange(null, 24)).toEqual({ first: 0, count: 24 });
    expect(playRange([4, 9], 24)).toEqual({ first: 4, count: 6 });
  });

  it("are never none, and never beyond the loop", () => {
    expect(playRange([20, 40], 24)).toEqual({ first: 20, count: 4 });
    expect(playRange([40, 50], 24)).toEqual({ first: 23, count: 1 });
    expect(playRange([9, 4], 24)).toEqual({ first: 9, count: 1 });
  });

  it("go round within the range, from its beginning where one stands outside", () => {
    const range = { first: 4, count: 6 };
    expect(after(8, 1, range)).toBe(9);
    expect(after(9, 1, range)).toBe(4);
    expect(after(4, -1, range)).toBe(9);
    expect(after(0, 2, range)).toBe(6);
    expect(after(7.6, 1, range)).toBe(8);
  });
});
