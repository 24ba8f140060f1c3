import { describe, expect, it } from "vitest";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { wishFor, type Viewing } from "./frameRequests";

const piece: Piece = {
  id: "p",
  name: "Ball",
  recipe: [
    { id: "form", step: "icosphere" },
    { id: "push", step: "displace" },
  ],
};
const still = { id: "p", key: "k", final_key: "kf", moves: false };
const study = (motion: object) => ({ id: "s", motion: [motion] }) as unknown as StudyState;
const plain: Viewing = {
  quality: "draft",
  heat: false,
  shards: "as they are",
  moving: false,
  step: "push",
};

describe("wishFor", () => {
  it("asks a piece that stands still for its one frame", () => {
    expect(wishFor(study(still), piece, 7, plain)).toMatchObject({ frame: 0, key: "k" });
    const moving = study({ ...still, moves: true });
    expect(wishFor(moving, piece, 7, plain)).toMatchObject({ frame: 7, maskOf: null });
  });
  it("takes the key of the wanted quality", () => {
    const request = wishFor(study(still), piece, 0, { ...plain, quality: "final" });
    expect(request).toMatchObject({ key: "kf", quality: "final" });
  });
  it("wants the mask only of a step of this piece that can have one", () => {
    const mask = (step: string | null) =>
      wishFor(study(still), piece, 0, { ...plain, heat: true, step })!.maskOf;
    expect([mask("push"), mask("form"), mask("elsewhere"), mask(null)]).toEqual([
      "push",
      null,
      null,
      null,
    ]);
  });
  it("has no request for a piece that the server has not told of", () => {
    expect(wishFor(study({ ...still, id: "other" }), piece, 0, plain)).toBeNull();
  });
});
