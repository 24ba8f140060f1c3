import { describe, expect, it } from "vitest";
import { paneAt, panesOf, roundBelow, withinPane } from "./panes";

describe("panes", () => {
  it("one view fills the stage", () => {
    expect(panesOf("front", false)).toEqual([
      { view: "front", left: 0, top: 0, width: 1, height: 1 },
    ]);
  });

  it("four views cover the stage once", () => {
    const four = panesOf("perspective", true);
    expect(four.reduce((sum, p) => sum + p.width * p.height, 0)).toBe(1);
    for (const pane of four) {
      const middle = [pane.left + pane.width / 2, pane.top + pane.height / 2] as const;
      expect(paneAt(four, ...middle)).toBe(pane);
    }
  });

  it("the front stands below the top and beside the side, so that places are in line", () => {
    const found = Object.fromEntries(panesOf("front", true).map((p) => [p.view, p]));
    expect(found.front.left).toBe(found.top.left);
    expect(found.front.top).toBe(found.side.top);
  });

  it("a place off the stage belongs to some view", () => {
    expect(paneAt(panesOf("front", true), 1.4, 2)).toBeDefined();
  });

  it("corners of a view are -1 and 1, upwards", () => {
    const [top] = panesOf("front", true);
    expect(withinPane(top, 0, 0)).toEqual([-1, 1]);
    expect(withinPane(top, 0.5, 0.5)).toEqual([1, -1]);
    expect(withinPane(top, 0.25, 0.25)).toEqual([0, 0]);
  });

  it("scales are round lengths", () => {
    expect([0.13, 0.2, 0.77, 1, 9.99, 42].map(roundBelow)).toEqual([0.1, 0.2, 0.5, 1, 5, 20]);
  });
});
