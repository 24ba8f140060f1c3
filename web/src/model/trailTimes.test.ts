import { describe, expect, it } from "vitest";
import { inLoopAt, timesBefore, trailLength } from "./trailTimes";

const LOOP = { frames: 24, oneWay: false };

describe("trails", () => {
  it("are as long as something of them is seen", () => {
    // Half of half of … : 0.5 of 255 steps is left after log2(510) = 8.99 frames.
    expect(trailLength(0.5, 100)).toBe(9);
    expect(trailLength(0, 100)).toBe(0);
    expect(trailLength(0.99, 48)).toBe(48);
  });
  it("begin with all pictures of which something is left", () => {
    const { times, anew } = timesBefore(0, null, 0.5, LOOP);
    expect(anew).toBe(true);
    expect(times).toHaveLength(9);
    expect(times.at(0)).toBe(-9);
    expect(times.at(-1)).toBe(-1);
    expect(inLoopAt(-1, 24)).toBe(23);
  });
  it("go on from the last picture, and leave out none between", () => {
    expect(timesBefore(4, 3, 0.5, LOOP)).toEqual({ times: [], anew: false });
    expect(timesBefore(6, 3, 0.5, LOOP)).toEqual({ times: [4, 5], anew: false });
  });
  it("of more pictures a second are made of pictures as close as these", () => {
    expect(timesBefore(4, 3.5, 0.5, LOOP, 0.5)).toEqual({ times: [], anew: false });
    const { times } = timesBefore(0, null, 0.5, LOOP, 0.5);
    expect(times).toHaveLength(18);
    expect(times.at(-1)).toBe(-0.5);
  });
  it("of fewer pictures a second are made of every frame", () => {
    expect(timesBefore(4, 2, 0.5, LOOP, 2)).toEqual({ times: [3], anew: false });
  });
  it("of what plays one way begin with its first frame", () => {
    const { times, anew } = timesBefore(2, null, 0.5, { frames: 24, oneWay: true });
    expect(times).toEqual([0, 1]);
    expect(anew).toBe(true);
  });
  it("begin anew after a picture that is later, or long gone", () => {
    expect(timesBefore(2, 5, 0.5, LOOP).anew).toBe(true);
    expect(timesBefore(22, 2, 0.5, LOOP).anew).toBe(true);
  });
});
