import { describe, expect, it } from "vitest";
import type { ValueEntry } from "../api/client";
import { changeKind, startMoving } from "./signals";

const entry = (part: Partial<ValueEntry>): ValueEntry =>
  ({
    kind: "number",
    label: "Amount",
    unit: "m",
    soft: [0, 1],
    hard: [null, null],
    scale: "linear",
    default: 0.5,
    ...part,
  }) as ValueEntry;

describe("a value that begins to move", () => {
  it("goes there and back about where it was", () => {
    const signal = startMoving(0.5, entry({}));
    expect(signal).toMatchObject({ signal: "cycle", shape: "sine", cycles: 1 });
    expect((Number(signal.low) + Number(signal.high)) / 2).toBeCloseTo(0.5);
    expect(Number(signal.high)).toBeGreaterThan(Number(signal.low));
  });
  it("runs through a whole cycle where it is counted in cycles", () => {
    expect(startMoving(0.25, entry({ unit: "cycle" }))).toMatchObject({
      shape: "saw",
      low: 0.25,
      high: 1.25,
    });
  });
  it("makes a full turn where it is a turn", () => {
    expect(startMoving(10, entry({ unit: "°", label: "Turn y" }))).toMatchObject({
      shape: "saw",
      low: 10,
      high: 370,
    });
  });
  it("stays within what code allows", () => {
    const signal = startMoving(0, entry({ hard: [0, null] }));
    expect(Number(signal.low)).toBeGreaterThanOrEqual(0);
  });
});

describe("another kind of signal", () => {
  const wave = { signal: "cycle", shape: "sine", low: 1, high: 3 };
  it("keeps its range", () => {
    expect(changeKind(wave, "drift", 240, 2)).toEqual({ signal: "drift", low: 1, high: 3 });
  });
  it("becomes keys that make a loop", () => {
    const { keys, before, after } = changeKind(wave, "keys", 240, 2);
    expect(keys?.map((k) => [k.frame, k.value])).toEqual([
      [0, 1],
      [120, 3],
      [240, 1],
    ]);
    expect([before, after]).toEqual(["repeat", "repeat"]);
  });
  it("takes its range from keys", () => {
    const keys = { signal: "keys", keys: [5, -2, 4].map((value, frame) => ({ frame, value })) };
    expect(changeKind(keys, "cycle", 240, 0)).toEqual({ signal: "cycle", low: -2, high: 5 });
  });
  it("stands still at the present value", () => {
    expect(changeKind(wave, "hold", 240, 2.5)).toEqual({ signal: "hold", value: 2.5 });
  });
  it("keys a value that did not change so that it does", () => {
    const { keys } = changeKind({ signal: "hold", value: 2 }, "keys", 10, 2);
    expect(keys?.[1].value).not.toBe(keys?.[0].value);
  });
});
