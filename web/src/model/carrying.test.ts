import { describe, expect, it } from "vitest";
import type { Layer, StudyDocument } from "../api/document";
import { carriedIn, carriersFor, layersFor } from "./carrying";

const by = (kind: "piece" | "marker" | "layer", id: string) => ({ by: kind, id });

const study: StudyDocument = {
  format: "zygomorph-study",
  version: 2,
  name: "Study",
  markers: [
    { id: "m", name: "M" },
    { id: "n", name: "N", carried: by("marker", "m") },
  ],
  cameras: [{ id: "c", name: "C", camera: "perspective", carried: by("marker", "m") }],
  lights: [{ id: "k", name: "K", light: "point", carried: by("piece", "q") }],
  pieces: [
    {
      id: "p",
      name: "P",
      carried: by("marker", "n"),
      recipe: [
        { id: "f", step: "box" },
        {
          id: "s",
          step: "bend",
          carried: by("marker", "m"),
          where: { layers: [{ id: "l", layer: "ball", carried: by("piece", "q") }] },
        },
      ],
    },
    { id: "q", name: "Q", recipe: [{ id: "f", step: "box" }], carried: by("piece", "p") },
  ],
};

describe("what carries what", () => {
  it("is found in markers, lights, cameras, pieces, steps and masks", () => {
    expect(carriedIn(study).map((t) => [t.address, t.carried.id])).toEqual([
      ["/markers/n", "m"],
      ["/lights/k", "q"],
      ["/cameras/c", "m"],
      ["/pieces/p", "n"],
      ["/pieces/p/recipe/s", "m"],
      ["/pieces/p/recipe/s/where/layers/l", "q"],
      ["/pieces/q", "p"],
    ]);
  });

  it("offers nothing that would carry itself", () => {
    const names = (address: string) => {
      const { pieces, markers } = carriersFor(study, address);
      return [...pieces, ...markers].map((c) => c.id);
    };
    expect(names("/markers/m")).toEqual([]);
    expect(names("/markers/n")).toEqual(["m"]);
    expect(names("/pieces/p")).toEqual(["m", "n"]);
    expect(carriersFor(study, "/pieces/p").cameras.map((c) => c.id)).toEqual(["c"]);
    expect(carriersFor(study, "/markers/m").cameras).toEqual([]);
    expect(names("/pieces/q")).toEqual(["p", "m", "n"]);
  });

  it("offers a step and a mask all but their own piece", () => {
    const { pieces, markers } = carriersFor(study, "/pieces/p/recipe/s");
    expect([pieces.map((p) => p.id), markers.map((m) => m.id)]).toEqual([["q"], ["m", "n"]]);
  });

  it("offers a layer those that it does not carry", () => {
    const layers: Layer[] = [
      { id: "a", layer: "ball" },
      { id: "b", layer: "box", carried: by("layer", "a") },
      { id: "c", layer: "box", carried: by("layer", "b") },
    ];
    expect(layersFor(layers, "a").map((l) => l.id)).toEqual([]);
    expect(layersFor(layers, "c").map((l) => l.id)).toEqual(["a", "b"]);
  });
});
