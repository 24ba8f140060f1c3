import { describe, expect, it } from "vitest";
import { median } from "./median";

describe("the middle one of some durations", () => {
  it("is not moved by one that is far off", () => {
    expect(median([16, 17, 900, 16, 17])).toBe(17);
    expect(median([5])).toBe(5);
    expect(median([])).toBe(0);
  });
});
