import { describe, expect, it } from "vitest";
import { ago } from "./SavedNote";

describe("how long ago", () => {
  it.each([
    [0, "just now"],
    [-50, "just now"],
    [4_000, "just now"],
    [12_000, "12 seconds ago"],
    [119_000, "1 minute ago"],
    [3_600_000, "1 hour ago"],
    [86_400_000, "yesterday"],
    [3 * 86_400_000, "3 days ago"],
  ])("says %d ms as %s", (milliseconds, words) => {
    expect(ago(milliseconds)).toBe(words);
  });
});
