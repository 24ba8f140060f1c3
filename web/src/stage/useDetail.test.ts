import { expect, test } from "vitest";
import { resolutionAt } from "./useDetail";

test("what stands still is drawn at the screen's own resolution, whatever it took before", () => {
  expect(resolutionAt({ level: 3, moving: false }, 1, false)).toBe(1);
  expect(resolutionAt({ level: 0, moving: true }, 1.5, false)).toBe(1.5);
  // A screen of low resolution is not drawn more finely than it shows.
  expect(resolutionAt({ level: 0, moving: false }, 0.5, false)).toBe(0.5);
  expect(resolutionAt({ level: 0, moving: false }, 3, false)).toBe(2);
});

test("what moves too slowly has fewer and fewer pixels", () => {
  const pixels = ([1, 2, 3] as const).map((level) =>
    resolutionAt({ level, moving: true }, 1, false),
  );
  expect(pixels).toEqual([1, 0.6, 0.4]);
});

test("the pictures of a loop that plays, which are kept, stay sharp for longer", () => {
  const pixels = ([1, 2, 3] as const).map((level) =>
    resolutionAt({ level, moving: true }, 1, true),
  );
  expect(pixels).toEqual([1, 1, 0.6]);
});
