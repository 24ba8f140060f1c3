import { expect, it } from "vitest";
import { withoutOpacity } from "./offscreenBuffer";

it("takes the opacity out of colours that were multiplied by it", () => {
  const pixels = new Uint8ClampedArray([10, 20, 30, 255, 0, 0, 0, 0, 64, 32, 0, 128]);
  withoutOpacity(pixels);
  expect([...pixels]).toEqual([10, 20, 30, 255, 0, 0, 0, 0, 128, 64, 0, 128]);
});
