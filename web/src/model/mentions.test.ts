import { describe, expect, it } from "vitest";
import { mentions } from "./mentions";

describe("values of a formula's own", () => {
  it("are found by their name, not inside of others", () => {
    expect(mentions("0.1 * a + x", "a")).toBe(true);
    expect(mentions("a", "a")).toBe(true);
    expect(mentions("abs(x) * tau", "a")).toBe(false);
    expect(mentions("mix(b, 1, x)", "b")).toBe(true);
    expect(mentions("cbrt(x)", "c")).toBe(false);
  });
});
