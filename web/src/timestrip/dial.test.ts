import { describe, expect, it } from "vitest";
import { arcPath, frameAt, placeOn } from "./dial";

const ring = { frames: 24, oneWay: false };
const open = { frames: 24, oneWay: true };

describe("frames on the ring", () => {
  it("begin at the top and go round to the right", () => {
    expect(placeOn(0, ring, 10)[1]).toBeCloseTo(-10);
    expect(placeOn(6, ring, 10)[0]).toBeCloseTo(10);
    expect(placeOn(24, ring, 10)[1]).toBeCloseTo(-10);
  });

  it.each([ring, open])("are found again where they lie", (dial) => {
    for (let frame = 0; frame < 24; frame++)
      expect(frameAt(...placeOn(frame, dial, 7), dial)).toBe(frame);
  });

  it("leave a gap at the top where they play one way", () => {
    const [first, last] = [placeOn(0, open, 10), placeOn(24, open, 10)];
    expect(first[0]).toBeGreaterThan(2);
    expect(last[0]).toBeCloseTo(-first[0]);
    expect(frameAt(0.1, -1, open)).toBe(0);
    expect(frameAt(-0.1, -1, open)).toBe(23);
  });

  it("never reach beyond the last, between it and the first either", () => {
    expect(frameAt(-0.01, -1, ring)).toBe(0);
  });

  it("are drawn through their middle, so that a whole ring is seen", () => {
    expect(arcPath(0, 24, ring, 10)).toContain(" 10 0 0 1 ");
    expect(arcPath(0, 12, ring, 10).match(/A/g)).toHaveLength(2);
  });
});
