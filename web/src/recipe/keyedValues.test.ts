import { describe, expect, it } from "vitest";
import type { Lane } from "../api/client";
import { keyedNumbers } from "./keyedValues";

const lane = (path: string, samples: number[]) => ({ path, samples }) as Lane;
const key = (frame: number, value: number) => ({ frame, value, ease: "smooth" as const });

describe("keys of several values at once", () => {
  it("are what the values are now", () => {
    const found = keyedNumbers({ amount: 0.25, name: "x", on: true }, [], 6, 24);
    expect(found).toEqual([["amount", { signal: "keys", keys: [key(6, 0.25)] }]]);
  });

  it("join those that are there, and leave other signals alone", () => {
    const values = {
      angle: { signal: "keys", keys: [key(0, 0), key(24, 48)] },
      phase: { signal: "cycle", low: 0, high: 1 },
    };
    const lanes = [lane("values/angle", [0, 48]), lane("values/phase", [0, 1])];
    expect(keyedNumbers(values, lanes, 12, 24)).toEqual([
      ["angle", { signal: "keys", keys: [key(0, 0), key(12, 24), key(24, 48)] }],
    ]);
  });

  it("take a vector by its components", () => {
    const values = { move: [1, { signal: "drift" }, 3], size: [1, 2] };
    const found = keyedNumbers(values, [lane("values/move/1", [5])], 3, 24);
    expect(found).toEqual([
      [
        "move",
        [
          { signal: "keys", keys: [key(3, 1)] },
          { signal: "drift" },
          { signal: "keys", keys: [key(3, 3)] },
        ],
      ],
    ]);
  });
});
