import { describe, expect, it } from "vitest";
import {
  bodyOf,
  finalBodyOf,
  masksOf,
  sizeFor,
  trailWords,
  type PictureChoice,
} from "./pictureOptions";

const chosen: PictureChoice = {
  camera: "c",
  long: 1280,
  first: "0",
  last: "95",
  step: "2",
  rate: "",
  repeats: "3",
  samples: 4,
  blur: true,
  quality: "final",
  transparent: true,
  pixelFormat: "yuv444p",
  effort: "good",
  count: "9",
  times: 4,
  handles: false,
  drawn: "stage",
  paths: 64,
  bounces: "8",
  noiseRemoval: true,
  layers: ["depth", "masks"],
};
const eye = {
  position: [0, 0, 1] as [number, number, number],
  target: [0, 0, 0] as [number, number, number],
  angle: 30,
};
const masks = [{ piece: "p", step: "s" }];
const around = { study: "s", aspect: 16 / 9, frame: 7.2, eye, row: "/pieces/p/recipe/s", masks };

describe("what is asked for", () => {
  it.each([
    [16 / 9, { width: 1280, height: 720 }],
    [9 / 16, { width: 720, height: 1280 }],
    [1, { width: 1280, height: 1280 }],
    [2.39, { width: 1280, height: 536 }],
  ])("has even sides in the format %f", (aspect, size) => {
    expect(sizeFor(1280, aspect)).toEqual(size);
  });

  it("of a clip has its range, rate and repeats, and no opacity that it cannot have", () => {
    const body = bodyOf("mp4", { ...chosen, rate: "30" }, around);
    expect(body).toMatchObject({
      first: 0,
      last: 95,
      step: 2,
      rate: 30,
      repeats: 3,
      transparent: false,
      pixel_format: "yuv444p",
      camera: "c",
      eye: null,
    });
    expect(bodyOf("webm", chosen, around)).toMatchObject({
      transparent: true,
      pixel_format: "yuva420p",
    });
  });

  it("of a still is the frame at the playhead, several times as large", () => {
    expect(bodyOf("still", chosen, around)).toMatchObject({
      first: 7,
      last: 7,
      width: 5120,
      height: 2880,
      repeats: 1,
    });
  });

  it("is seen from the present view where no camera is chosen", () => {
    const own = { ...chosen, camera: "", handles: true };
    expect(bodyOf("png", own, around)).toMatchObject({
      camera: null,
      eye,
      handles: "/pieces/p/recipe/s",
    });
  });

  it.each([
    [{ first: "x" }, "first frame"],
    [{ last: "" }, "last frame"],
    [{ step: "1.5" }, "step"],
    [{ rate: "900" }, "rate"],
  ])("says what is written wrongly (%j)", (wrong, named) => {
    expect(() => bodyOf("mp4", { ...chosen, ...wrong }, around)).toThrow(named);
  });
});

describe("what is asked of path tracing", () => {
  const traced: PictureChoice = { ...chosen, drawn: "traced", paths: 256, bounces: "12" };

  it("has its own figures, and no handles", () => {
    const body = finalBodyOf("mp4", { ...traced, handles: true }, around);
    expect(body).toMatchObject({ samples: 256, bounces: 12, noise_removal: true, camera: "c" });
    expect(body).not.toHaveProperty("handles");
  });

  it("says what is written wrongly", () => {
    for (const bounces of ["0", "65", "many", ""])
      expect(() => finalBodyOf("mp4", { ...traced, bounces }, around)).toThrow(/[Bb]ounces/);
  });

  it("of path tracing has layers where each picture is kept, and not in a clip", () => {
    expect(finalBodyOf("exr", chosen, around)).toMatchObject({
      layers: ["depth"],
      masks,
      transparent: false,
    });
    expect(finalBodyOf("png", { ...chosen, layers: ["pieces"] }, around)).toMatchObject({
      layers: ["pieces"],
      masks: [],
    });
    expect(finalBodyOf("mp4", chosen, around)).toMatchObject({ layers: [], masks: [] });
  });

  it("finds the masks of what is seen", () => {
    const layered = { id: "t", step: "twist", where: { layers: [{ layer: "ball" }] } };
    const pieces = [
      { id: "a", recipe: [{ id: "f", step: "icosphere" }, layered] },
      { id: "b", visible: false, recipe: [layered] },
    ];
    expect(masksOf(pieces as unknown as Parameters<typeof masksOf>[0])).toEqual([
      { piece: "a", step: "t" },
    ]);
  });
});

describe("what is said of frames that trails need", () => {
  const loop = { frames: 48 };
  const all = { first: "0", last: "47" };

  it("is nothing of a whole loop, or without trails", () => {
    expect(trailWords("mp4", all, loop, 0.5)).toBe("");
    expect(trailWords("still", all, loop, 0)).toBe("");
  });

  it("is how many there are before a still or a part of the loop", () => {
    expect(trailWords("still", all, loop, 0.5)).toMatch(/^up to 9 frames before it/);
    expect(trailWords("png", { first: "3", last: "47" }, loop, 0.5)).toMatch(
      /9 frames before these/,
    );
  });
});
