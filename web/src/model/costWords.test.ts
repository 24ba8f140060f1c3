import { describe, expect, it } from "vitest";
import { costWords } from "./costWords";

describe("the cost of a step", () => {
  it.each([
    [0.04, "0.0 ms"],
    [0.36, "0.4 ms"],
    [9.94, "9.9 ms"],
    [9.96, "10 ms"],
    [57.6, "58 ms"],
    [999.4, "999 ms"],
    [999.6, "1.0 s"],
    [1234.5, "1.2 s"],
  ])("of %d milliseconds is %s", (ms, words) => {
    expect(costWords({ ms, reused: false })).toBe(words);
  });
  it("is none where the step was kept", () => {
    expect(costWords({ ms: 0.01, reused: true })).toBe("kept");
  });
});
