import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Debounce } from "./debounce";

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

test("wishes that follow each other closely are granted once, after the last of them", () => {
  const calm = new Debounce(50);
  let granted = 0;
  const wish = () => {
    if (calm.allows(wish)) granted += 1;
  };
  for (let k = 0; k < 4; k++) {
    wish();
    vi.advanceTimersByTime(30);
  }
  expect(granted).toBe(0);
  vi.advanceTimersByTime(20);
  expect(granted).toBe(1);
  vi.advanceTimersByTime(500);
  expect(granted).toBe(1);
});

test("what was put off is forgotten when it is stopped", () => {
  const calm = new Debounce(50);
  let granted = 0;
  const wish = () => {
    if (calm.allows(wish)) granted += 1;
  };
  wish();
  calm.stop();
  vi.advanceTimersByTime(100);
  expect(granted).toBe(0);
  wish();
  expect(granted).toBe(0);
});
