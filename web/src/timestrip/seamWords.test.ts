import { describe, expect, it } from "vitest";
import { seamSentence, seamWords } from "./seamWords";

it("says nothing of a seam where it plays one way", () => {
  const seam = { state: "one way", position_m: null, velocity_relative: null };
  expect(seamWords(seam, false)).toBe("one way");
});

describe("the seam in words", () => {
  it("tells the distance where there is one", () => {
    const open = { state: "open", position_m: 0.25, velocity_relative: 0.9 };
    expect(seamWords(open, false)).toBe("seam open · 0.250 m");
  });
  it("tells the jump of speed where the places agree", () => {
    const jump = { state: "open", position_m: 1e-9, velocity_relative: 0.374 };
    expect(seamWords(jump, false)).toBe("seam open · speed 37 %");
  });
  it("tells that nothing is apart where it is closed", () => {
    const closed = { state: "closed", position_m: 0, velocity_relative: 0.005 };
    expect(seamWords(closed, false)).toBe("seam closed · 0.000 m");
  });
  it("tells what it cannot measure, and what it does not know yet", () => {
    const differ = { state: "open", position_m: null, velocity_relative: null };
    expect(seamWords(differ, false)).toBe("seam open · nothing at one end");
    expect(seamWords(undefined, true)).toBe("measuring the seam…");
    expect(seamWords(undefined, false)).toBe("seam unknown");
  });
});

it("is a sentence that names the piece as the artist does", () => {
  const seam = { position_m: 0.25, velocity_relative: 0.374, note: "" };
  expect(seamSentence(seam, "Pond", false)).toBe(
    "The end of Pond is 0.25 m from its beginning; its speed differs by 37 %.",
  );
  expect(seamSentence({ ...seam, position_m: null }, "Pond", false)).toContain(
    "empty, or begins so",
  );
  expect(seamSentence(undefined, "Pond", false)).toContain("How far");
  expect(seamSentence(seam, "Pond", true)).toContain("need not come back");
});
