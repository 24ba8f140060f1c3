import { describe, expect, it } from "vitest";
import type { Lane } from "../api/client";
import { laneValue } from "./lanes";

const lane = { path: "a", label: "A", unit: "m", signal: "cycle", samples: [0, 1, 4] } as Lane;

describe("the value of a lane", () => {
  it("is mixed between its samples", () => {
    expect(laneValue(lane, 0, 100)).toBe(0);
    expect(laneValue(lane, 25, 100)).toBe(0.5);
    expect(laneValue(lane, 50, 100)).toBe(1);
    expect(laneValue(lane, 75, 100)).toBe(2.5);
  });
  it("begins again after the loop", () => {
    expect(laneValue(lane, 125, 100)).toBe(0.5);
  });
  it("is not there without samples", () => {
    expect(laneValue(undefined, 3, 100)).toBeUndefined();
    expect(laneValue({ ...lane, samples: [] }, 3, 100)).toBeUndefined();
  });
});
