import { describe, expect, it } from "vitest";
import type { KeyPoint } from "../api/document";
import { mirror, pasted, scale, type Edited } from "./groupEdits";

const KEYS: KeyPoint[] = [
  { frame: 0, value: 0, ease: "linear" },
  { frame: 10, value: 2, ease: "smooth", in: 0.5, out: -1 },
  { frame: 30, value: 1, ease: "held" },
  { frame: 48, value: 4, ease: "smooth" },
];
const places = (edited: Edited) =>
  "keys" in edited ? edited.keys.map((k) => [k.frame, k.value]) : edited.refused;
const none = new Set<number>();

describe("chosen keys", () => {
  it("are mirrored in time within their own stretch; the others stay", () => {
    const found = places(mirror(KEYS, new Set([0, 1, 2]), "time", 48)) as number[][];
    expect(found.slice(0, 3).sort((a, b) => a[0] - b[0])).toEqual([
      [0, 1],
      [20, 2],
      [30, 0],
    ]);
    expect(found[3]).toEqual([48, 4]);
  });
  it("are mirrored in value about their middle, tangents with them", () => {
    const edited = mirror(KEYS, new Set([0, 1]), "value", 48);
    expect(places(edited)).toEqual([
      [0, 2],
      [10, 0],
      [30, 1],
      [48, 4],
    ]);
    expect("keys" in edited && [edited.keys[1].in, edited.keys[1].out]).toEqual([-0.5, 1]);
  });
  it("are scaled in time about the playhead", () => {
    expect(places(scale(KEYS, new Set([1, 2]), "time", 0.5, 10))).toEqual([
      [0, 0],
      [10, 2],
      [20, 1],
      [48, 4],
    ]);
  });
  it("are scaled in value about their middle, none chosen means all", () => {
    expect(places(scale(KEYS, none, "value", 2, 0))).toEqual([
      [0, -2],
      [10, 2],
      [30, 0],
      [48, 6],
    ]);
    // Upside down by a factor below 0.
    expect(places(scale(KEYS, new Set([0, 1]), "value", -1, 0))).toEqual([
      [0, 2],
      [10, 0],
      [30, 1],
      [48, 4],
    ]);
  });
  it("that would fall on one frame, or have no span, are refused with a word", () => {
    expect(places(scale(KEYS, new Set([1, 2]), "time", 0.01, 10))).toMatch(/fall on one frame/);
    expect(places(scale(KEYS, none, "time", -1, 10))).toMatch(/above 0/);
    expect(places(scale(KEYS, new Set([1]), "value", 2, 0))).toMatch(/choose more/);
    expect(places(mirror(KEYS, new Set([1]), "time", 48))).toMatch(/choose more/);
  });
  it("are pasted at the playhead, also the last one first", () => {
    const part = KEYS.slice(0, 3);
    expect(pasted(part, 100, false).map((k) => [k.frame, k.value])).toEqual([
      [100, 0],
      [110, 2],
      [130, 1],
    ]);
    expect(pasted(part, 100, true).map((k) => [k.frame, k.value])).toEqual([
      [100, 1],
      [120, 2],
      [130, 0],
    ]);
    // Forwards again when it is turned twice.
    const twice = pasted(pasted(part, 0, true), 0, true);
    expect(twice.map((k) => [k.frame, k.value])).toEqual(part.map((k) => [k.frame, k.value]));
  });
});
