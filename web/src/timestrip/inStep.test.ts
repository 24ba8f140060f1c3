import { expect, it } from "vitest";
import { movedTo } from "./inStep";

it("leaves a sound alone that is in step, also across the seam", () => {
  expect(movedTo(2.05, 2, 10)).toBeNull();
  expect(movedTo(9.97, 0.02, 10)).toBeNull();
  expect(movedTo(0.02, 9.97, 10)).toBeNull();
});

it("moves it to the playhead where the two are apart", () => {
  expect(movedTo(2.5, 2, 10)).toBe(2);
  expect(movedTo(9.5, 0.2, 10)).toBe(0.2);
});
