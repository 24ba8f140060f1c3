// @vitest-environment jsdom
import { afterEach, expect, test } from "vitest";
import { noteReturning, returning } from "./returning";

afterEach(() => sessionStorage.clear());

test("what was noted of a study comes back, each study its own", () => {
  noteReturning("a", { frame: 17, step: "s1" });
  noteReturning("a", { ribbon: "when", eye: { position: [1, 2, 3], target: [0, 0, 0] } });
  noteReturning("b", { frame: 3 });
  expect(returning("a")).toEqual({
    frame: 17,
    step: "s1",
    ribbon: "when",
    eye: { position: [1, 2, 3], target: [0, 0, 0] },
  });
  expect(returning("b")).toEqual({ frame: 3 });
  expect(returning("c")).toEqual({});
});

test("what cannot be read is left out", () => {
  sessionStorage.setItem("zygomorph-study-a", "{ not JSON");
  expect(returning("a")).toEqual({});
  sessionStorage.setItem(
    "zygomorph-study-a",
    JSON.stringify({ frame: "x", ribbon: "why", eye: { position: [1, 2] }, piece: 7, four: true }),
  );
  expect(returning("a")).toEqual({ four: true });
});
