import { describe, expect, it } from "vitest";
import { backdropCss } from "./backdropCss";

const none = { picture: null, fit: "cover" as const };
const stops = [
  { at: 0, colour: "#000000" },
  { at: 0.78, colour: "#ffffff" },
];

describe("a backdrop on the page", () => {
  it("is round about its middle", () => {
    expect(backdropCss({ kind: "round", middle: [0.52, 0.44], angle: 0, stops, ...none })).toBe(
      "radial-gradient(circle at 52% 44%, #000000 0%, #ffffff 78%)",
    );
  });
  it("goes from left to right at 0 degrees, and upwards at 90", () => {
    const linear = { kind: "linear" as const, middle: [0, 0], stops, ...none };
    expect(backdropCss({ ...linear, angle: 0 })).toContain("linear-gradient(90deg");
    expect(backdropCss({ ...linear, angle: 90 })).toContain("linear-gradient(0deg");
  });
  it("is one colour, or squares that stand for nothing", () => {
    const plain = { kind: "linear" as const, middle: [0, 0], angle: 0, stops: [stops[1]], ...none };
    expect(backdropCss(plain)).toBe("#ffffff");
    expect(backdropCss({ ...plain, kind: "clear", stops: [] })).toContain("conic");
  });
  it("is a picture that is fitted as it says, over the colour beside it", () => {
    const told = { kind: "picture" as const, middle: [0, 0], angle: 0, stops, picture: "/a" };
    expect(backdropCss({ ...told, fit: "whole" })).toBe(
      'url("/a") center / contain no-repeat #000000',
    );
    expect(backdropCss({ ...told, fit: "stretch" })).toContain("100% 100%");
  });
});
