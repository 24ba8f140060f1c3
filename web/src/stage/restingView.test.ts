import { describe, expect, it } from "vitest";
import { finenessWords, sizeOfPicture, whyNotTraced } from "./restingView";

const resting = {
  draw: "traced" as const,
  playing: false,
  turning: false,
  dragging: false,
  live: [],
  four: false,
  view: { name: "perspective" as const, count: 0, fit: false },
  heat: false,
  drawing: false,
};

describe("a view that rests", () => {
  it("is traced", () => expect(whyNotTraced(resting)).toBeNull());

  it.each([
    { playing: true },
    { turning: true },
    { dragging: true },
    { live: [{ do: "set" as const, path: "/loop/frames", value: 3 }] },
  ])("is the stage's while something moves: %o", (moving) => {
    expect(whyNotTraced({ ...resting, ...moving })).toBe("");
  });

  it("says why a flat view is the stage's", () => {
    expect(whyNotTraced({ ...resting, four: true })).toContain("perspective");
    expect(whyNotTraced({ ...resting, view: { ...resting.view, name: "top" } })).toContain(
      "camera",
    );
    expect(whyNotTraced({ ...resting, heat: true })).toContain("heat");
  });
});

describe("the picture of a place", () => {
  it("has the pixels of the screen, within reason", () => {
    expect(sizeOfPicture(900, 576, 1)).toEqual({ width: 900, height: 576 });
    expect(sizeOfPicture(900, 600, 3)).toEqual({ width: 1350, height: 900 });
    expect(sizeOfPicture(4096, 1024, 1)).toEqual({ width: 2048, height: 512 });
  });

  it("tells how fine it is", () => {
    expect(finenessWords(null, 256)).toBe("tracing paths…");
    expect(finenessWords(0, 256)).toBe("a first look");
    expect(finenessWords(32, 256)).toBe("32 of 256 paths a pixel");
    expect(finenessWords(256, 256)).toBe("256 paths a pixel");
  });
});
