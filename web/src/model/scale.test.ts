import { describe, expect, it } from "vitest";
import type { ValueEntry } from "../api/client";
import { fromShare, nudged, settle, ticks, toShare } from "./scale";

const entry = (more: Partial<ValueEntry>): ValueEntry => ({
  kind: "number",
  default: 0,
  label: "",
  help: "",
  unit: "",
  soft: [0, 10],
  hard: [null, null],
  scale: "linear",
  options: [],
  shown_when: null,
  mentioned_in: [],
  known: [],
  draft: false,
  begins: null,
  main: true,
  moves: true,
  each: false,
  by_values: null,
  ...more,
});

describe("rulers", () => {
  it("put a logarithmic value where its logarithm is", () => {
    const log = entry({ soft: [0.1, 10], scale: "log" });
    expect(toShare(1, log)).toBeCloseTo(0.5);
    expect(fromShare(0.5, log)).toBeCloseTo(1);
  });
  it("go back and forth", () => {
    for (const share of [0, 0.25, 0.7, 1]) {
      expect(toShare(fromShare(share, entry({})), entry({}))).toBeCloseTo(share, 2);
    }
  });
  it("go beyond the soft limits but not beyond the hard ones", () => {
    const limited = entry({ hard: [0, null] });
    expect(fromShare(1.5, limited)).toBe(15);
    expect(fromShare(-0.5, limited)).toBe(0);
  });
  it("keep whole numbers whole", () => {
    expect(settle(2.6, entry({ kind: "whole" }))).toBe(3);
  });
  it("have 1-2-5 ticks on a logarithmic scale", () => {
    expect(ticks(entry({ soft: [0.1, 10], scale: "log" }))).toHaveLength(7);
  });
});

describe("keys on a scale", () => {
  it("go a step, ten steps, and to both ends", () => {
    const number = entry({ soft: [0, 10] });
    expect(nudged("ArrowRight", 5, number, false)).toBeCloseTo(5.2);
    expect(nudged("ArrowLeft", 5, number, true)).toBeCloseTo(4.98);
    expect(nudged("PageUp", 5, number, false)).toBeCloseTo(7);
    expect(nudged("Home", 5, number, false)).toBe(0);
    expect(nudged("End", 5, number, false)).toBe(10);
  });

  it("count whole numbers one by one", () => {
    const whole = entry({ kind: "whole", soft: [1, 20] });
    expect(nudged("ArrowUp", 5, whole, false)).toBe(6);
    expect(nudged("PageDown", 15, whole, false)).toBe(5);
  });

  it("mean nothing else", () => {
    expect(nudged("a", 5, entry({}), false)).toBeNull();
  });
});
