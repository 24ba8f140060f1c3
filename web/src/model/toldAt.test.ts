import { describe, expect, it } from "vitest";
import { toldAt } from "./toldAt";

describe("what is told of a loop", () => {
  it("is the same at all frames where one is told", () => {
    expect([0, 7, 24, 90].map((frame) => toldAt(["a"], frame, 24))).toEqual(["a", "a", "a", "a"]);
  });
  it("is that of the frame where each is told", () => {
    const told = Array.from({ length: 25 }, (_, k) => k) as [number, ...number[]];
    expect([0, 1, 12, 12.4, 24].map((frame) => toldAt(told, frame, 24))).toEqual([
      0, 1, 12, 12, 24,
    ]);
  });
  it("is the nearest where fewer are told, and goes round", () => {
    expect([0, 30, 100, 130, -70].map((frame) => toldAt([0, 1, 2], frame, 100))).toEqual([
      0, 1, 2, 1, 1,
    ]);
  });
});
