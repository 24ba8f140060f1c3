import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Debounce } from "./debounce";

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

test("requests that follow each other closely are granted once, after the last of them", () => {
  const debounce = new Debounce(50);
  let granted = 0;
  const request = () => {
    if (debounce.allows(request)) granted += 1;
  };
  for (let k = 0; k < 4; k++) {
    request();
    vi.advanceTimersByTime(30);
  }
  expect(granted).toBe(0);
  vi.advanceTimersByTime(20);
  expect(granted).toBe(1);
  vi.advanceTimersByTime(500);
  expect(granted).toBe(1);
});

test("what was put off is forgotten when it is stopped", () => {
  const debounce = new Debounce(50);
  let granted = 0;
  const request = () => {
    if (debounce.allows(request)) granted += 1;
  };
  request();
  debounce.stop();
  vi.advanceTimersByTime(100);
  expect(granted).toBe(0);
  request();
  expect(granted).toBe(0);
});
