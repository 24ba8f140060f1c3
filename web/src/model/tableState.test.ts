import { expect, test } from "vitest";
import { figure, filterTexts, isLimit, NEW_TABLE, sortedBy } from "./tableState";

test("only filters with a limit are sent", () => {
  const filters: Record<string, [string, string]> = {
    x: ["", " "],
    y: ["0", ""],
    area: ["", "2e-3 "],
  };
  expect(filterTexts(filters)).toEqual(["y~0~", "area~~2e-3"]);
});

test("a limit is empty or a number", () => {
  expect(["", " ", "-3", "1e-4"].every(isLimit)).toBe(true);
  expect(["x", "1,5", "--2"].some(isLimit)).toBe(false);
});

test("a column sorts upward, downward, and not at all; from the first page each time", () => {
  const up = sortedBy({ ...NEW_TABLE, page: 7 }, "x");
  expect([up.sort, up.descending, up.page]).toEqual(["x", false, 0]);
  const down = sortedBy(up, "x");
  expect([down.sort, down.descending]).toEqual(["x", true]);
  expect(sortedBy(down, "x").sort).toBe("");
  expect(sortedBy(down, "y").descending).toBe(false);
});

test("figures", () => {
  expect([0, 12345, 0.12345, 250.5, 1.5e-5, 2.5e7 + 0.5].map(figure)).toEqual([
    "0",
    "12,345",
    "0.1235",
    "250.50",
    "1.500e-5",
    "2.500e+7",
  ]);
  expect(figure(null)).toBe("–");
});
