import { describe, expect, it } from "vitest";
import { fittedView, limitedView, movedView, roundLevels, zoomedView } from "./editorView";

describe("what a curve editor shows", () => {
  const view = fittedView([0, 10], [{ frame: 300, value: -10 }], 240);
  it("holds the loop and all keys and values", () => {
    expect(view.from).toBeLessThan(0);
    expect(view.to).toBeGreaterThan(300);
    expect(view.low).toBeLessThan(-10);
    expect(view.high).toBeGreaterThan(10);
  });
  it("keeps the place under the pointer when it zooms", () => {
    const at = { frame: 60, value: 5 };
    const near = zoomedView(view, at, 0.5, 0.5);
    expect((at.frame - near.from) / (near.to - near.from)).toBeCloseTo(
      (at.frame - view.from) / (view.to - view.from),
    );
  });
  it("moves as a whole, and shows something where nothing differs", () => {
    expect(movedView(view, 10, 1).from).toBe(view.from + 10);
    const flat = fittedView([3, 3], [], 100);
    expect(flat.high).toBeGreaterThan(flat.low);
  });
});

describe("the limits of a view", () => {
  const far = { from: -5000, to: 9000, low: 0, high: 1 };
  it("are the loop and a margin", () => {
    const { from, to } = limitedView(far, [], 240);
    expect(from).toBeCloseTo(-36);
    expect(to).toBeCloseTo(276);
  });
  it("hold a key that stands outside the loop", () => {
    expect(limitedView(far, [{ frame: 400, value: 0 }], 240).to).toBeCloseTo(436);
  });
  it("leave at least two frames to be seen", () => {
    const near = limitedView({ ...far, from: 10, to: 10.01 }, [], 240);
    expect(near.to - near.from).toBeCloseTo(2);
  });
});

it("has round values on its grid", () => {
  expect(roundLevels({ from: 0, to: 1, low: -0.13, high: 1.07 })).toEqual([
    0, 0.2, 0.4, 0.6, 0.8, 1,
  ]);
  expect(roundLevels({ from: 0, to: 1, low: 0, high: 0 }).length).toBeLessThan(3);
});
