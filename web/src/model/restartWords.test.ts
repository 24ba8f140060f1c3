import { describe, expect, it } from "vitest";
import { restartWords, type Restart } from "./restartWords";

const tank: Restart = {
  name: "Pond",
  title: "Ripple tank",
  frames: 1008,
  at_most: false,
  seconds: 2.2,
};
const springs: Restart = {
  name: "Reed",
  title: "Springs",
  frames: 168,
  at_most: false,
  seconds: 0.3,
};

describe("what begins again when a value is let go", () => {
  it("names the step, the frames and about how long", () => {
    expect(restartWords([tank], 1)).toBe(
      "Let go, and Ripple tank starts again: 1,008 frames, about 2 s",
    );
  });

  it("names pieces where there are several, and adds up what takes long", () => {
    expect(restartWords([tank, springs], 3)).toBe(
      "Let go, and Ripple tank (Pond) and Springs (Reed) start again: 1,176 frames, about 3 s",
    );
  });

  it("says where nobody knows yet how soon it settles", () => {
    expect(restartWords([{ ...tank, at_most: true }], 1)).toBe(
      "Let go, and Ripple tank starts again: up to 1,008 frames, at most 2 s",
    );
  });

  it("counts many", () => {
    expect(restartWords([tank, springs, springs], 3)).toMatch(
      /^Let go, and 3 systems start again: /,
    );
  });

  it("says nothing of what nobody waits for, and does not guess", () => {
    expect(restartWords([], 1)).toBe("");
    expect(restartWords([{ ...springs, seconds: 0.05 }], 1)).toBe("");
    expect(restartWords([{ ...springs, seconds: null }], 1)).toBe(
      "Let go, and Springs starts again: 168 frames",
    );
    expect(restartWords([{ ...tank, seconds: 150 }], 1)).toMatch(/about 3 min$/);
  });
});
