import { describe, expect, it } from "vitest";
import { Pace } from "./pace";

/** The level after some ticks of one length, in each of which a picture was drawn or not. */
function after(pace: Pace, ticks: number, spent: number, draws = true): number {
  for (let k = 0; k < ticks; k++) pace.tick(spent, draws ? ++pictures : pictures);
  return pace.level;
}
let pictures = 0;

describe("Pace", () => {
  it("keeps all detail where pictures are quick", () => {
    expect(after(new Pace(0), 200, 16)).toBe(0);
  });
  it("lowers detail step by step where they are slow, and no further than the last step", () => {
    const pace = new Pace(0);
    expect(after(pace, 7, 200)).toBe(0);
    expect(after(pace, 1, 200)).toBe(1);
    expect(after(pace, 8, 200)).toBe(2);
    expect(after(pace, 8, 200)).toBe(3);
    expect(after(pace, 80, 200)).toBe(3);
  });
  it("is not misled by a single long pause", () => {
    const pace = new Pace(0);
    expect(after(pace, 7, 16)).toBe(0);
    expect(after(pace, 1, 4000)).toBe(0);
  });
  it("raises detail again after a while, later each time it failed", () => {
    const waits = [1, 2].map((failures) => {
      const pace = new Pace(0);
      for (let k = 1; k < failures; k++) {
        after(pace, 8, 200);
        while (pace.level > 0) after(pace, 8, 10);
      }
      after(pace, 8, 200);
      let ticks = 0;
      while (pace.level > 0) ticks += after(pace, 8, 10) + 8;
      return ticks;
    });
    expect(waits[0]).toBeGreaterThan(16);
    expect(waits[1]).toBeGreaterThan(waits[0] * 2);
  });
  it("does not take ticks without pictures for quick ones", () => {
    const pace = new Pace(0);
    after(pace, 8, 200);
    pace.begin(pictures);
    expect(after(pace, 800, 16, false)).toBe(1);
  });
  it("never draws in full what is drawn in software", () => {
    expect(after(new Pace(0, 1), 2000, 5)).toBe(1);
  });
});
