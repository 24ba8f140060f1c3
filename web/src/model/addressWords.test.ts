import { describe, expect, it } from "vitest";
import type { Catalogue } from "../api/client";
import type { StudyDocument } from "../api/document";
import { addressWords } from "./addressWords";

const labelled = (label: string) => ({ label });
const catalogue = {
  forms: [{ key: "box", title: "Box", values: {} }],
  steps: [{ key: "bend", title: "Bend", values: { angle: labelled("Angle") } }],
  layers: [{ key: "ball", title: "Ball", values: { radius: labelled("Radius") } }],
  looks: [{ key: "surface", values: { gradient: labelled("Gradient") } }],
  layer_values: { strength: labelled("Strength") },
  place_values: { turn: labelled("Turn") },
  marker_values: { move: labelled("Move") },
} as unknown as Catalogue;
const one: StudyDocument = {
  format: "zygomorph-study",
  version: 2,
  name: "Study",
  markers: [{ id: "m", name: "Lamp" }],
  pieces: [
    {
      id: "p",
      name: "Pond",
      recipe: [
        { id: "f", step: "box" },
        { id: "s", step: "bend", where: { layers: [{ id: "l", layer: "ball" }] } },
      ],
    },
  ],
};
const words = (address: string, study = one) => addressWords(study, catalogue, address);

describe("an address in words", () => {
  it.each([
    ["/pieces/p/recipe/s/values/angle", "2 Bend, angle"],
    ["/pieces/p/recipe/s/on", "2 Bend, in use"],
    ["/pieces/p/recipe/s/where/layers/l/values/radius", "2 Bend, Ball, radius"],
    ["/pieces/p/recipe/s/where/layers/l/strength", "2 Bend, Ball, strength"],
    ["/pieces/p/look/surface/gradient", "look: gradient"],
    ["/pieces/p/place/turn", "place: turn"],
    ["/pieces/p/look", "look"],
    ["/markers/m/place/move", "Lamp, move"],
    ["/pieces/p/recipe/gone/values/angle", "a step that is gone"],
    ["/pieces/gone/visible", "a piece that is gone, shown"],
    ["/backdrop", "the backdrop"],
    ["/markers/gone/place", "a marker that is gone, place"],
  ])("%s", (address, expected) => {
    expect(words(address)).toBe(expected);
  });

  it("names the piece where there are several", () => {
    const two = { ...one, pieces: [...one.pieces, { id: "q", name: "Q", recipe: [] }] };
    expect(words("/pieces/p/recipe/s/on", two)).toBe("Pond, 2 Bend, in use");
  });
});
