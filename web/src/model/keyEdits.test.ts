import { describe, expect, it } from "vitest";
import { easedBy, easeOf, mirrored, scaledAbout, shifted, withoutDoubles } from "./keyEdits";

const keys = [
  { frame: 0, value: 0, ease: "linear" as const },
  { frame: 10, value: 2, ease: "held" as const, in: 0.5, out: -1 },
  { frame: 30, value: 1 },
];

describe("edits of keys", () => {
  it("mirror them within their own time, with each stretch's ease and tangents turned", () => {
    const found = mirrored(keys, 100);
    expect(found.map((k) => [k.frame, k.value])).toEqual([
      [0, 1],
      [20, 2],
      [30, 0],
    ]);
    expect(found.map((k) => k.ease).slice(0, 2)).toEqual(["held", "linear"]);
    expect([found[1].in, found[1].out]).toEqual([1, -0.5]);
  });
  it("mirror keys that fill the loop within the loop", () => {
    expect(mirrored([keys[0], { frame: 29, value: 3 }], 30).map((k) => k.frame)).toEqual([1, 30]);
  });
  it("twice mirrored are as before", () => {
    const twice = mirrored(mirrored(keys, 100), 100);
    expect(twice.map((k) => [k.frame, k.value])).toEqual(keys.map((k) => [k.frame, k.value]));
  });
  it("shift the chosen ones by whole frames", () => {
    const found = shifted(keys, new Set([1, 2]), 2.4, 0.5);
    expect(found.map((k) => [k.frame, k.value])).toEqual([
      [0, 0],
      [12, 2.5],
      [32, 1.5],
    ]);
  });
  it("scale about a frame, with flatter tangents", () => {
    const found = scaledAbout(keys, new Set([0, 1, 2]), 10, 2);
    expect(found.map((k) => k.frame)).toEqual([-10, 10, 50]);
    expect(found[1].in).toBe(0.25);
  });
  it("keep the last of two keys at one frame", () => {
    expect(withoutDoubles([...keys, { frame: 10, value: 9 }])[1].value).toBe(9);
  });
  it("name how a key goes on, and set it", () => {
    expect(easeOf(easedBy(keys[0], "eased"))).toBe("eased");
    expect(easeOf(easedBy(keys[1], "held"))).toBe("held");
    expect(easedBy(keys[1], "smooth")).toEqual({ frame: 10, value: 2, ease: "smooth" });
  });
});
