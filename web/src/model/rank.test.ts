import { describe, expect, it } from "vitest";
import { rank, ranked } from "./rank";

const ENTRIES = [
  {
    title: "Displace",
    also: ["noise", "rock", "boil"],
    help: "Pushes points along their normals.",
  },
  { title: "Place", also: ["move", "rotate"], help: "Moves, turns and scales the points." },
  { title: "Wave", also: ["ripple"], help: "A wave that runs along an axis." },
  { title: "Value of a cloth", help: "Noise of some sort." },
];
const found = (wanted: string) =>
  ranked(ENTRIES, (entry) => entry, wanted).map((entry) => entry.title);

describe("search", () => {
  it("puts the exact name first", () => {
    expect(found("place")).toEqual(["Place", "Displace"]);
    expect(found("  PLACE ")[0]).toBe("Place");
  });
  it("finds by other words, before words that only its help has", () => {
    expect(found("noise")).toEqual(["Displace", "Value of a cloth"]);
    expect(found("boil")).toEqual(["Displace"]);
    expect(found("rot")).toEqual(["Place"]);
  });
  it("finds by several words in any order", () => {
    expect(found("cloth value")).toEqual(["Value of a cloth"]);
    expect(found("points normals")).toEqual(["Displace"]);
  });
  it("finds nothing by what is not there, and everything by nothing", () => {
    expect(found("zebra")).toEqual([]);
    expect(found("")).toHaveLength(ENTRIES.length);
  });
  it("does not mind accents", () => {
    expect(rank({ title: "Entrée" }, "entree")).toBe(1);
  });
  it("puts a word of a name before the same as another word for something", () => {
    const bands = { title: "Bands", also: ["stripes"] };
    const patterns = { title: "Checks, stripes, dots", also: ["pattern"] };
    expect(ranked([bands, patterns], (each) => each, "stripes")[0]).toBe(patterns);
  });
});
