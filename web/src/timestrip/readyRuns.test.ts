import { describe, expect, it } from "vitest";
import { readyRuns } from "./readyRuns";

describe("runs of ready frames", () => {
  it("go from their first frame to the one after their last", () => {
    expect(readyRuns(new Set([0, 1, 2, 5, 7, 8]), 10)).toEqual([
      [0, 3],
      [5, 6],
      [7, 9],
    ]);
  });

  it("are none where nothing is ready, and keep to the loop", () => {
    expect(readyRuns(new Set(), 10)).toEqual([]);
    expect(readyRuns(new Set([8, 9, 10, 11]), 10)).toEqual([[8, 10]]);
  });
});
