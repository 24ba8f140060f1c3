import { describe, expect, it } from "vitest";
import { outline } from "./outline";

describe("the plot of a formula", () => {
  const plot = (low: number[], high: number[]) => ({ low, high, count: 9, undefined: 0 });
  it("spans its height from the least to the greatest result", () => {
    expect(outline(plot([0, 1], [0, 1]), 100, 24)).toBe("M0.0 21.5L100.0 1.5L100.0 2.5L0.0 22.5Z");
  });
  it("is level in the middle where all results are equal", () => {
    expect(outline(plot([5, 5], [5, 5]), 100, 24)).toBe(
      "M0.0 11.5L100.0 11.5L100.0 12.5L0.0 12.5Z",
    );
  });
});
