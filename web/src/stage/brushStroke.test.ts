import { describe, expect, it } from "vitest";
import { begun, goneOn, LONGEST } from "./brushStroke";

const brush = { does: "paint", size: 0.1, strength: 80, softness: 50 } as const;
const at = (x: number) => [x, 0, 0, 0, 1, 0];

describe("a stroke of the brush", () => {
  it("begins as a dab with what the brush is set to", () => {
    expect(begun(brush, 0.1, "erase", at(0.123456))).toEqual({
      does: "erase",
      size: 0.1,
      strength: 80,
      softness: 50,
      path: [[0.1235, 0, 0, 0, 1, 0]],
    });
  });
  it("gets another place only where it has gone some way", () => {
    const stroke = begun(brush, 0.1, "paint", at(0));
    expect(goneOn(stroke, at(0.01))).toBe(stroke);
    expect(goneOn(stroke, at(0.05)).path).toHaveLength(2);
  });
  it("ends somewhere", () => {
    let stroke = begun(brush, 0.1, "paint", at(0));
    for (let k = 0; k < LONGEST + 50; k++) stroke = goneOn(stroke, at(k));
    expect(stroke.path.length).toBe(LONGEST);
  });
});
