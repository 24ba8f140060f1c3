import { describe, expect, it } from "vitest";
import { laneShape } from "./laneShape";

const none = { last: [], peaks: [] };

describe("the shape of a lane", () => {
  it("fits its samples, and what stands beside them, into the box", () => {
    const shape = laneShape({ samples: [0, 2], ...none }, 100, 20, 0, [4]);
    expect([shape.low, shape.high]).toEqual([0, 4]);
    expect(shape.line).toBe("M0.0 20.0L100.0 10.0");
    expect(shape.last + shape.band + shape.wave).toBe("");
  });
  it("draws what never changes in the lower half, without dividing by nothing", () => {
    expect(laneShape({ samples: [3, 3], ...none }, 100, 20, 0).line).toBe("M0.0 20.0L100.0 20.0");
  });
  it("has a band between the first and the last element", () => {
    const shape = laneShape({ samples: [0, 0], last: [1, 1], peaks: [] }, 100, 20, 0);
    expect(shape.band).toBe("M0.0 20.0L100.0 20.0L100.0 0.0L0.0 0.0Z");
  });
  it("has the waveform of a sound about its middle", () => {
    const shape = laneShape(
      {
        samples: [0, 1],
        last: [],
        peaks: [
          [-1, 1],
          [0, 0.5],
        ],
      },
      100,
      20,
      0,
    );
    expect(shape.wave).toBe("M0.0 1.0L100.0 5.5L100.0 10.0L0.0 19.0Z");
  });
});
