import { describe, expect, it } from "vitest";
import { closed, extended, moved, without, type DrawnPath } from "./drawnPaths";

const OPEN: DrawnPath = {
  closed: false,
  knots: [
    [0, 0],
    [1, 0],
    [1, 1],
  ],
};

describe("drawing paths", () => {
  it("the first knot begins a path, the next ones extend it", () => {
    const one = extended([], false, 0.12345, 2);
    expect(one).toEqual([{ closed: false, knots: [[0.123, 2]] }]);
    expect(extended(one, true, 1, 1)[0].knots).toHaveLength(2);
  });

  it("after a path that is ended or closed, another begins", () => {
    expect(extended([OPEN], false, 5, 5)).toHaveLength(2);
    expect(extended([{ ...OPEN, closed: true }], true, 5, 5)).toHaveLength(2);
  });

  it("only three knots or more can be closed", () => {
    expect(closed([OPEN])[0].closed).toBe(true);
    expect(closed([{ ...OPEN, knots: OPEN.knots.slice(0, 2) }])[0].closed).toBe(false);
    expect(closed([])).toEqual([]);
  });

  it("a knot is moved, and the others stay", () => {
    expect(moved([OPEN, OPEN], 1, 2, 7, 8)).toEqual([
      OPEN,
      {
        closed: false,
        knots: [
          [0, 0],
          [1, 0],
          [7, 8],
        ],
      },
    ]);
  });

  it("a knot is removed; what can no longer be closed is open, and an empty path is gone", () => {
    const ring = { ...OPEN, closed: true };
    expect(without([ring], 0, 0)).toEqual([{ closed: false, knots: OPEN.knots.slice(1) }]);
    expect(without([{ closed: false, knots: [[0, 0]] }, OPEN], 0, 0)).toEqual([OPEN]);
  });
});
