import { describe, expect, it } from "vitest";
import { advance, begin, seconds, type Playhead } from "./playhead";

const at = (frame: number, way: 1 | -1 = 1): Playhead => ({ at: frame, way, ended: false });

function walk(head: Playhead, moves: number[], mode: "loop" | "once" | "both") {
  return moves.map((moved) => {
    head = advance(head, moved, 10, mode);
    return Math.floor(head.at);
  });
}

describe("the playhead", () => {
  it("goes round in a loop and keeps the fraction over the seam", () => {
    expect(advance(at(9.75), 0.5, 10, "loop").at).toBeCloseTo(0.25);
    expect(walk(at(8), [1, 1, 1], "loop")).toEqual([9, 0, 1]);
  });
  it("stops at the last frame where it plays once", () => {
    expect(advance(at(9.5), 0.4, 10, "once")).toMatchObject({ ended: false });
    expect(advance(at(9.5), 0.6, 10, "once")).toEqual({ at: 9, way: 1, ended: true });
  });
  it("begins anew after it was played once, and stays where it is otherwise", () => {
    expect(begin(9, 10, "once").at).toBe(0);
    expect(begin(4, 10, "once").at).toBe(4);
    expect(begin(9, 10, "loop").at).toBe(9);
  });
  it("stays on its first frame while a picture is dated before playing began", () => {
    expect(advance(at(0), seconds(1016, 1000) * 30, 10, "loop").at).toBe(0);
    expect(seconds(1000, 1500)).toBe(0.5);
  });
  it("turns at both ends and shows each of them once", () => {
    expect(walk(at(7), [1, 1, 1, 1], "both")).toEqual([8, 9, 8, 7]);
    expect(walk(at(2, -1), [1, 1, 1, 1], "both")).toEqual([1, 0, 1, 2]);
  });
  it("never leaves the loop, however long a picture took", () => {
    for (const mode of ["loop", "once", "both"] as const) {
      for (const moved of [0, 0.3, 1, 9, 10, 37.2]) {
        for (const way of [1, -1] as const) {
          const found = advance(at(3.5, way), moved, 10, mode).at;
          expect(found).toBeGreaterThanOrEqual(0);
          expect(Math.floor(found)).toBeLessThan(10);
        }
      }
    }
  });
});
