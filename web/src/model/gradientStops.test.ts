import { describe, expect, it } from "vitest";
import type { OwnGradient } from "../api/document";
import {
  added,
  gradientCss,
  moved,
  MOST_STOPS,
  ownGradient,
  removed,
  reversed,
  spaced,
  typedColour,
} from "./gradientStops";

const two: OwnGradient = {
  stops: [
    { at: 0.2, colour: "#000000" },
    { at: 1, colour: "#ffffff" },
  ],
};

describe("the stops of a gradient", () => {
  it("move within the strip, and stay the same stops when they pass each other", () => {
    const passed = moved(two, 1, -0.4);
    expect(passed.stops[1]).toEqual({ at: 0, colour: "#ffffff" });
    expect(passed.stops[0]).toBe(two.stops[0]);
  });
  it("are added until there are too many, and the last is never removed", () => {
    expect(added(two, 0.5, "#ff0000")?.stops).toHaveLength(3);
    const full = { stops: Array.from({ length: MOST_STOPS }, () => two.stops[0]) };
    expect(added(full, 0.5, "#ff0000")).toBeNull();
    expect(removed(removed(two, 0), 0).stops).toEqual([two.stops[1]]);
  });
  it("are reversed twice to what they were, and spaced evenly in their order", () => {
    expect(reversed(reversed(two)).stops).toEqual(two.stops);
    const three = { stops: [two.stops[1], { at: 0.3, colour: "#ff0000" }, two.stops[0]] };
    expect(spaced(three).stops.map((s) => [s.at, s.colour])).toEqual([
      [0, "#000000"],
      [0.5, "#ff0000"],
      [1, "#ffffff"],
    ]);
  });
  it("are those of a bundled gradient where the document names one", () => {
    const bundled = [{ key: "dusk", stops: two.stops, colours: [] }];
    expect(ownGradient("dusk", bundled).stops).toBe(two.stops);
    expect(ownGradient(two, bundled)).toBe(two);
  });
});

describe("the picture of a gradient", () => {
  it("is joined in the space that it is mixed in", () => {
    expect(gradientCss(two)).toBe("linear-gradient(in oklab 90deg, #000000 20%, #ffffff 100%)");
    expect(gradientCss({ ...two, mix: "linear" })).toContain("in srgb-linear");
  });
  it("holds each colour up to the next stop", () => {
    expect(gradientCss({ ...two, join: "held" })).toBe(
      "linear-gradient(90deg, #000000 0%, #000000 100%, #ffffff 100%, #ffffff 100%)",
    );
  });
});

describe("a typed colour", () => {
  it("is three or six digits, with or without the sign", () => {
    expect(typedColour(" FFB45c ")).toBe("#ffb45c");
    expect(typedColour("#fa0")).toBe("#ffaa00");
    expect(typedColour("orange")).toBeNull();
  });
});
