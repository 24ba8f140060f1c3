import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { useOffscreen } from "../common/offscreen";
import { TrailsAtRest } from "./trailsAtRest";

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  useOffscreen.setState({ frame: null });
});

it("stands at the moments before, the picture itself last", () => {
  const trails = new TrailsAtRest();
  trails.after(10, { frames: 48, rate: 24, oneWay: false }, 0.5, () => undefined);
  vi.advanceTimersByTime(1000);
  const seen: number[] = [];
  while (trails.wanted !== null) {
    expect(useOffscreen.getState().frame).toBe(trails.wanted);
    seen.push(trails.wanted);
    trails.drawn();
  }
  expect(seen.at(-1)).toBe(10);
  expect(seen.length).toBeGreaterThan(2);
  expect(useOffscreen.getState().frame).toBeNull();
});

it("lets the pieces go back where something else is wanted", () => {
  const trails = new TrailsAtRest();
  trails.after(10, { frames: 48, rate: 24, oneWay: false }, 0.5, () => undefined);
  vi.advanceTimersByTime(1000);
  trails.stop();
  expect(trails.wanted).toBeNull();
  expect(useOffscreen.getState().frame).toBeNull();
});

it("knows whether its trails are those of what is shown", () => {
  const trails = new TrailsAtRest();
  const mesh = {};
  expect(trails.has([10, mesh])).toBe(false);
  trails.keep([10, mesh]);
  expect(trails.has([10, mesh])).toBe(true);
  expect(trails.has([11, mesh])).toBe(false);
  expect(trails.has([10, {}])).toBe(false);
  trails.forget();
  expect(trails.has([10, mesh])).toBe(false);
});
