import { expect, test } from "vitest";
import { freeName, namedByForm } from "./names";

test("a name that is taken gets the next number", () => {
  expect(freeName("Sheet", ["Ball"])).toBe("Sheet");
  expect(freeName("Sheet", ["Sheet"])).toBe("Sheet 2");
  expect(freeName("Sheet 2", ["Sheet", "Sheet 2", "Sheet 3"])).toBe("Sheet 4");
});

test("a name that somebody gave is told from the one a form gave", () => {
  expect(namedByForm("Icosphere", "Icosphere")).toBe(true);
  expect(namedByForm("Icosphere 2", "Icosphere")).toBe(true);
  expect(namedByForm("Icosphere of glass", "Icosphere")).toBe(false);
  expect(namedByForm("Flame", "Icosphere")).toBe(false);
});
