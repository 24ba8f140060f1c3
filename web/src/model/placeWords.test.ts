import { expect, test } from "vitest";
import type { ValueEntry } from "../api/client";
import type { Piece } from "../api/document";
import { placeWords } from "./placeWords";

const entry = (label: string, unit: string, value: number) =>
  ({ label, unit, default: [value, value, value] }) as unknown as ValueEntry;
const ENTRIES = {
  move: entry("Move", "m", 0),
  turn: entry("Turn", "°", 0),
  scale: entry("Scale", "×", 1),
};
const words = (place: Piece["place"], carried: Piece["carried"] = null) =>
  placeWords({ id: "p", name: "P", recipe: [], place, carried }, ENTRIES, "draft");

test("what stands as it was made says so", () => {
  expect(words({})).toBe("as it was made");
  expect(words({ turn: [0, 0, 0] })).toBe("as it was made");
});

test("a turn is told with its angles, a move with its metres", () => {
  expect(words({ turn: [0, 40, 0] })).toBe("turn 0, 40, 0°");
  expect(words({ move: [0.25, 0, 0], scale: [2, 2, 2] })).toBe("move 0.25, 0, 0 m, scale 2 ×");
});

test("what moves says that it does", () => {
  const run = { signal: "run" };
  expect(words({ turn: [0, run, 0] })).toBe("turn 0, moving, 0°");
  expect(words({ move: [{ draft: 1, final: 2 }, 0, 0] }, { by: "marker", id: "m" })).toBe(
    "move 1, 0, 0 m, carried",
  );
});
