import { expect, test } from "vitest";
import { matrixAt } from "./matrixAt";

const along = (...values: number[]) => values.map((v) => [v, 2 * v]);

test("what stands still has one place at every frame", () => {
  expect(matrixAt(along(3), 17, 48)).toEqual([3, 6]);
  expect(matrixAt([], 17, 48)).toBeUndefined();
});

test("each frame of a usual loop has its own, the last as well", () => {
  const course = along(0, 1, 2, 3, 4);
  expect(matrixAt(course, 2, 4)).toEqual([2, 4]);
  expect(matrixAt(course, 4, 4)).toEqual([4, 8]);
  expect(matrixAt(course, 5, 4)).toEqual([1, 2]);
});

test("a very long loop is told at some frames and interpolated between them", () => {
  const course = along(0, 10, 20);
  expect(matrixAt(course, 25_000, 100_000)).toEqual([5, 10]);
  expect(matrixAt(course, 100_000, 100_000)).toEqual([20, 40]);
});
