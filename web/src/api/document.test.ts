import { describe, expect, it } from "vitest";
import { freshId, isPair, isSignal, loopOf, type StudyDocument } from "./document";

describe("values of a document", () => {
  it("tells signals from numbers and from pairs of qualities", () => {
    expect(isSignal({ signal: "drift" })).toBe(true);
    expect(isSignal(3)).toBe(false);
    expect(isSignal(null)).toBe(false);
    expect(isPair({ draft: 1, final: 2 })).toBe(true);
    expect(isPair({ signal: "drift" })).toBe(false);
  });
  it("has a loop of ten seconds where none is given", () => {
    expect(loopOf({ pieces: [] } as unknown as StudyDocument)).toEqual({
      frames: 240,
      rate: 24,
      oneWay: false,
    });
  });
});

describe("a fresh id", () => {
  it("is not one that is taken", () => {
    expect(freshId("step", [])).toBe("step1");
    expect(freshId("step", ["form", "step2"])).toBe("step3");
    expect(freshId("step", ["step1", "step2", "step4"])).toBe("step5");
    expect(freshId("step", ["a", "step3"])).toBe("step4");
  });
});
