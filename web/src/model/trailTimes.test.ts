import { describe, expect, it } from "vitest";
import { inLoopAt, timesBefore, trailLength } from "./trailTimes";

describe("trails", () => {
  it("are as long as something of them is seen", () => {
    // Half of half of … : 0.5 of 255 steps is left after log2(510) = 8.99 frames.
    expect(trailLength(0.5, 100)).toBe(9);
    expect(trailLength(0, 100)).toBe(0);
    expect(trailLength(0.99, 48)).toBe(48);
  });
  it("begin with all pictures of which something is left", () => {
    const { times, anew } = timesBefore(0, null, 0.5, 24);
    expect(anew).toBe(true);
    expect(times).toHaveLength(9);
    expect(times.at(0)).toBe(-9);
    expect(times.at(-1)).toBe(-1);
    expect(inLoopAt(-1, 24)).toBe(23);
  });
  it("go on from the last picture, and leave out none between", () => {
    expect(timesBefore(4, 3, 0.5, 24)).toEqual({ times: [], anew: false });
    expect(timesBefore(6, 3, 0.5, 24)).toEqual({ times: [4, 5], anew: false });
  });
  it("begin anew after a picture that is later, or long gone", () => {
    expect(timesBefore(2, 5, 0.5, 24).anew).toBe(true);
    expect(timesBefore(22, 2, 0.5, 24).anew).toBe(true);
  });
});
