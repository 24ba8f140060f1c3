import { describe, expect, it } from "vitest";
import type { Catalogue } from "../api/client";
import { lookColours, oneOf } from "./lookColours";

const value = (kind: string, fallback: unknown, shown_when: unknown = null) => ({
  kind,
  default: fallback,
  shown_when,
  mentioned_in: [],
});
const catalogue = {
  looks: [
    {
      key: "skin",
      values: {
        by: value("choice", "fixed"),
        plain: value("colour", "#112233", ["by", ["fixed"]]),
        through: value("gradient", "warm", ["by", ["height"]]),
      },
    },
  ],
  gradients: [{ key: "warm", colours: ["#000000", "#880000", "#ffffff"] }],
} as unknown as Catalogue;

describe("the colours of a look", () => {
  it("are its one colour, given or by default", () => {
    expect(lookColours({ id: "a", look: "skin" }, catalogue)).toEqual(["#112233"]);
    const given = { id: "a", look: "skin", values: { plain: "#445566" } };
    expect(lookColours(given, catalogue)).toEqual(["#445566"]);
  });
  it("are those of its gradient where a value is coloured", () => {
    const given = { id: "a", look: "skin", values: { by: "height" } };
    expect(lookColours(given, catalogue)).toEqual(["#000000", "#880000", "#ffffff"]);
    expect(oneOf(lookColours(given, catalogue))).toBe("#880000");
  });
  it("are grey where the look is not known yet", () => {
    expect(lookColours(undefined, undefined)).toEqual(["#888888"]);
    expect(oneOf(["#888888"])).toBe("#888888");
  });
});
