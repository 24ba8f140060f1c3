import { describe, expect, it } from "vitest";
import { lensPlace, pixelShift, scattered, shutterMoment } from "./sampling";

const each = (count: number) => Array.from({ length: count }, (_, k) => k);
const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;

describe("the samples of a picture", () => {
  it("are in the middle of pixel and lens where there is one", () => {
    expect([...pixelShift(0, 1), ...lensPlace(0, 1, 6), shutterMoment(0, 1)]).toEqual([
      0, 0, 0, 0, 0,
    ]);
  });

  it.each([4, 16, 64])("fill a pixel evenly (%i)", (count) => {
    const shifts = each(count).map((k) => pixelShift(k, count));
    for (const axis of [0, 1]) {
      const along = shifts.map((s) => s[axis]);
      expect(Math.max(...along.map(Math.abs))).toBeLessThanOrEqual(0.5);
      expect(Math.abs(mean(along))).toBeLessThan(0.5 / Math.sqrt(count));
      // The variance of an even spread over a width of 1.
      expect(mean(along.map((v) => v * v))).toBeGreaterThan(1 / 12 - 0.04);
    }
  });

  it.each([16, 64, 200])("fill a round lens evenly (%i)", (count) => {
    const radii = each(count).map((k) => Math.hypot(...lensPlace(k, count, 0)));
    expect(Math.max(...radii)).toBeLessThanOrEqual(1);
    // Half of a disc's area lies within 1/√2 of its radius.
    const inner = radii.filter((r) => r < Math.SQRT1_2).length / count;
    expect(inner).toBeCloseTo(0.5, 1);
  });

  it.each([3, 5, 6])("stay within a lens of %i blades, and reach its corners", (blades) => {
    const count = 400;
    const places = each(count).map((k) => lensPlace(k, count, blades));
    const apothem = Math.cos(Math.PI / blades);
    const past = places.map(([x, y]) =>
      Math.max(
        ...each(blades).map((b) => {
          // Sides lie half a wedge from the corners.
          const side = ((b + 0.5) * 2 * Math.PI) / blades;
          return x * Math.cos(side) + y * Math.sin(side);
        }),
      ),
    );
    expect(Math.max(...past)).toBeLessThanOrEqual(apothem + 1e-9);
    expect(Math.max(...places.map((p) => Math.hypot(...p)))).toBeGreaterThan(apothem);
  });

  it.each([1, 2, 7, 12, 64])("each have a number of their own (%i)", (count) => {
    expect(new Set(each(count).map((k) => scattered(k, count))).size).toBe(count);
  });

  it("go through the time that the shutter is open", () => {
    expect(each(4).map((k) => shutterMoment(k, 4))).toEqual([0, 0.25, 0.5, 0.75]);
  });
});
