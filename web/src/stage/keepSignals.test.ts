import { describe, expect, it } from "vitest";
import { keepSignals } from "./keepSignals";

const wave = { signal: "cycle" as const, low: 0, high: 1 };

describe("a dragged handle", () => {
  it("leaves a component that a signal moves to its signal", () => {
    expect(keepSignals([1, wave, 3], [4, 5, 6])).toEqual([4, wave, 6]);
  });
  it("cannot set a number that a signal moves", () => {
    expect(keepSignals(wave, 2)).toBeNull();
  });
  it("sets what stands still", () => {
    expect(keepSignals(1, 2)).toBe(2);
    expect(keepSignals([0, 0, 0], [1, 2, 3])).toEqual([1, 2, 3]);
    expect(keepSignals(undefined, 2)).toBe(2);
  });
});
