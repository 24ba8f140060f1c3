import { expect, it } from "vitest";
import type { KeyPoint } from "../api/document";
import { nudgedKey } from "./nudgedKey";
import { roundStep } from "./roundStep";

const keys: KeyPoint[] = [
  { frame: 0, value: 0 },
  { frame: 10, value: 1 },
  { frame: 12, value: 0 },
];

it("moves a key by a frame, or by ten, and never past its neighbours", () => {
  expect(nudgedKey(keys, 1, "ArrowLeft", false, 1)?.[1].frame).toBe(9);
  expect(nudgedKey(keys, 1, "ArrowLeft", true, 1)?.[1].frame).toBe(1);
  expect(nudgedKey(keys, 1, "ArrowRight", true, 1)?.[1].frame).toBe(11);
});

it("changes its value by a round step of the scale", () => {
  expect(nudgedKey(keys, 1, "ArrowUp", false, 1.05)?.[1].value).toBeCloseTo(1.02);
  expect(nudgedKey(keys, 1, "ArrowDown", true, 1.05)?.[1].value).toBeCloseTo(0.8);
});

it("leaves other keys alone", () => {
  expect(nudgedKey(keys, 1, "Enter", false, 1)).toBeNull();
  expect(nudgedKey(keys, 7, "ArrowUp", false, 1)).toBeNull();
});

it("finds round steps", () => {
  expect(roundStep(0.018)).toBe(0.02);
  expect(roundStep(4)).toBe(5);
  // By ratio: 20 is 1.39 times as large, 10 would be 1.44 times too small.
  expect(roundStep(720 / 50)).toBe(20);
  expect(roundStep(0)).toBe(0.1);
});
