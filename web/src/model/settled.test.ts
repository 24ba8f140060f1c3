import { describe, expect, it } from "vitest";
import type { ValueEntry } from "../api/client";
import { settled } from "./settled";

const entry = (part: Partial<ValueEntry>) =>
  ({
    kind: "number",
    label: "Size",
    unit: "m",
    soft: [0.1, 4],
    hard: [0.001, 100],
    scale: "linear",
    ...part,
  }) as ValueEntry;

describe("a typed number", () => {
  it("is taken as it is within the limits", () => {
    expect(settled(2.5, entry({}))).toEqual({ value: 2.5, note: "" });
    // Finer than the steps of a drag.
    expect(settled(0.32541, entry({}))).toEqual({ value: 0.32541, note: "" });
    expect(settled(0.1 + 0.2, entry({})).value).toBe(0.3);
  });
  it("beyond a limit says the limit and what was set", () => {
    expect(settled(-3, entry({}))).toEqual({
      value: 0.001,
      note: "Size is at least 0.001 m: set to 0.001 m.",
    });
    expect(settled(1e6, entry({})).note).toBe("Size is at most 100 m: set to 100 m.");
  });
  it("of a whole number says that it was rounded", () => {
    const cycles = entry({ kind: "whole", label: "Cycles", unit: "/ loop", hard: [0, 1000] });
    expect(settled(1.3, cycles)).toEqual({
      value: 1,
      note: "Cycles is a whole number: 1.3 is set to 1 / loop.",
    });
    expect(settled(2, cycles).note).toBe("");
  });
});
