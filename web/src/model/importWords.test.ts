import { expect, test } from "vitest";
import { readWords, sizeWords } from "./importWords";

const READ = {
  points: 2503,
  faces: 4968,
  joined_points: 0,
  dropped_faces: 0,
  open_edges: 0,
  size: [1, 1, 1],
  curves: 0,
};

test("what a file held is told in one line", () => {
  expect(readWords(READ)).toBe("2,503 points and 4,968 faces");
  expect(readWords({ ...READ, joined_points: 1, dropped_faces: 2 })).toBe(
    "2,503 points and 4,968 faces; 1 doubled point was joined; 2 faces without a surface left out",
  );
  expect(readWords({ ...READ, points: 40, faces: 0, curves: 2 })).toBe("2 outlines of 40 points");
  expect(readWords({ ...READ, notes: ["/cage: a cage, brought in as it is."] })).toBe(
    "2,503 points and 4,968 faces; /cage: a cage, brought in as it is",
  );
  expect(readWords({ ...READ, points: 1, faces: 0 })).toBe("1 loose point and no faces");
});

test("sizes have three figures", () => {
  expect(sizeWords([1.23456, 0.00123456, 1234.5])).toBe("1.23 × 0.00123 × 1,230 m");
});
