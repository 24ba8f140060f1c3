import { describe, expect, it, test } from "vitest";
import type { JobState } from "../api/client";
import {
  bars,
  bytesWords,
  costWords,
  leftWords,
  nearest,
  spread,
  stateWords,
  schedulerWords,
} from "./jobWords";

const job = (more: Partial<JobState>): JobState => ({
  id: "a",
  label: "Seed glass, final, as MP4",
  state: "running",
  share: 0.5,
  what: "12 of 24 frames",
  message: "",
  hint: "",
  filename: "seed-glass.mp4",
  size: 2_400_000,
  seconds_left: 130,
  details: [],
  ...more,
});

test("a job says how far it is and how long it takes", () => {
  expect(stateWords(job({}))).toBe("12 of 24 frames, 2 min left");
  expect(stateWords(job({ seconds_left: null, what: "" }))).toBe("waiting for its turn");
  expect(stateWords(job({ state: "done" }))).toBe("seed-glass.mp4, 2.4 MB");
  expect(stateWords(job({ state: "paused" }))).toBe("Paused.");
  expect(stateWords(job({ state: "paused", message: "The disk is full." }))).toBe(
    "It stands still.",
  );
});

test("figures have units that can be read", () => {
  expect([89, 91, 5400, 9000].map(leftWords)).toEqual(["89 s", "2 min", "1.5 h", "2.5 h"]);
  expect([10, 1500, 2_500_000].map(bytesWords)).toEqual(["1 kB", "2 kB", "2.5 MB"]);
});

test("a strip shows frames from all over the job", () => {
  expect(spread(48, 12)).toEqual([2, 6, 10, 14, 18, 22, 26, 30, 34, 38, 42, 46]);
  expect(spread(3, 12)).toEqual([0, 1, 2]);
  expect(spread(0, 12)).toEqual([]);
});

test("where a frame is not there yet its nearest one stands in", () => {
  expect(nearest([0, 1, 7], 2, 2)).toBe(1);
  expect(nearest([0, 1, 7], 4, 2)).toBeNull();
  expect(nearest([], 4, 2)).toBeNull();
});

test("bars are the mean of what each covers, as shares of the highest", () => {
  expect(bars([1, 3, 4, 4], 2)).toEqual([0.5, 1]);
  expect(bars([1, null, null, null], 2)).toEqual([1, null]);
  expect(bars([null, null], 2)).toEqual([null, null]);
});

test("costs are told in the mean and at most", () => {
  expect(costWords([1, 2, 12, null])).toBe("5.0 s a frame, at most 12 s");
  expect(costWords([3.21])).toBe("3.2 s");
  expect(costWords([null])).toBe("");
});

test("a simulation cache says what is kept", () => {
  const kept = job({ state: "done", filename: "", details: [{ frames: 144, bytes: 12_400_000 }] });
  expect(stateWords(kept)).toBe("144 frames are kept here, 12.4 MB");
});

describe("who makes jobs", () => {
  it.each([
    [null, 2, "Made by this machine"],
    ["tcp://a:8786", 0, "Made by tcp://a:8786: nobody is there yet"],
    ["tcp://a:8786", 1, "Made by tcp://a:8786: 1 worker"],
    ["tcp://a:8786", 3, "Made by tcp://a:8786: 3 workers"],
  ])("%s with %i", (scheduler, workers, words) => {
    expect(schedulerWords({ scheduler, workers })).toBe(words);
  });
});
