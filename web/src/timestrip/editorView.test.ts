import { describe, expect, it } from "vitest";
import { fittedView, movedView, zoomedView } from "./editorView";

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
