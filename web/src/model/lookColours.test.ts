import { describe, expect, it } from "vitest";
import type { Catalogue } from "../api/client";
import type { Look } from "../api/document";
import { lookColours, oneOf } from "./lookColours";

const gradient = { kind: "gradient", default: "warm" };
const catalogue = {
  looks: [
    {
      key: "skin",
      values: {
        plain: { kind: "colour", default: "#112233", by_values: { gradient } },
      },
    },
  ],
  gradients: [
    {
      key: "warm",
      stops: [
        { at: 0, colour: "#000000" },
        { at: 0.5, colour: "#880000" },
        { at: 1, colour: "#ffffff" },
      ],
      colours: [],
    },
  ],
} as unknown as Catalogue;

const by = (values: Look["values"], on = true): Look => ({
  id: "a",
  look: "skin",
  on: true,
  name: "",
  by: [{ id: "plain", values, where: { layers: [{ id: "l", layer: "height", on }] } }],
});

describe("the colours of a look", () => {
  it("are its one colour, given or by default", () => {
    const plain = { id: "a", look: "skin", on: true, name: "" };
    expect(lookColours(plain, catalogue)).toEqual(["#112233"]);
    expect(lookColours({ ...plain, values: { plain: "#445566" } }, catalogue)).toEqual(["#445566"]);
  });
  it("are those of its gradient where it goes by value", () => {
    expect(lookColours(by({}), catalogue)).toEqual(["#000000", "#880000", "#ffffff"]);
    expect(oneOf(lookColours(by({}), catalogue))).toBe("#880000");
    const own = { gradient: { stops: [{ at: 0, colour: "#123456" }] } };
    expect(lookColours(by(own), catalogue)).toEqual(["#123456"]);
  });
  it("are its one colour where what it goes by is switched off", () => {
    expect(lookColours(by({}, false), catalogue)).toEqual(["#112233"]);
  });
  it("are grey where the look is not known yet", () => {
    expect(lookColours(undefined, undefined)).toEqual(["#888888"]);
    expect(oneOf(["#888888"])).toBe("#888888");
  });
});
