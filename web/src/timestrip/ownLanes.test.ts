import { expect, it } from "vitest";
import type { StudyState } from "../api/client";
import { lanesOf } from "./ownLanes";

const cycle = { wave: "sine" };

/** A state of nothing but a light and a backdrop that move. */
const state = {
  document: {
    pieces: [],
    lights: [{ id: "k", name: "Key", light: "point" }],
  },
  markers: [],
  motion: [{ id: "p", steps: [], place_lanes: [], looks: [] }],
  scene: {
    parts: [
      { address: "/lights/k", lanes: [{ address: "/lights/k/values/power", given: cycle }] },
      { address: "/backdrop", lanes: [{ address: "/backdrop/values/colour", given: cycle }] },
    ],
  },
} as unknown as StudyState;

it("shows what moves of lights and the backdrop under the names of these", () => {
  const lanes = lanesOf(state, { id: "p" } as never, null);
  expect(lanes.map(({ path, number, row }) => [path, number, row])).toEqual([
    ["/lights/k/values/power", "Key", null],
    ["/backdrop/values/colour", "backdrop", null],
  ]);
});
