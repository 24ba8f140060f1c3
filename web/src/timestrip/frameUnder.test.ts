import { expect, it } from "vitest";
import { frameUnder } from "./frameUnder";

it("goes from the first frame to the last, and no further", () => {
  expect(frameUnder(100, 100, 480, 240)).toBe(0);
  expect(frameUnder(340, 100, 480, 240)).toBe(120);
  // Frame F is frame 0 again: the last is F - 1.
  expect(frameUnder(580, 100, 480, 240)).toBe(239);
  expect(frameUnder(0, 100, 480, 240)).toBe(0);
  expect(frameUnder(9999, 100, 480, 240)).toBe(239);
});

it("is the first frame where nothing is known of the width", () => {
  expect(frameUnder(10, 10, 0, 240)).toBe(0);
});
