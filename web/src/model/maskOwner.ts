import type { By, Layer, Look, Piece, Step } from "../api/document";
import { LOOK_ROW } from "./rowIds";

/** What has a mask: a step, a look, or what of a look goes by value. */
export interface MaskOwner {
  /** Address in the document. */
  at: string;
  /** Path below the row of the recipe that it is of, with a slash at its end; "" for the row's own. */
  below: string;
  layers: Layer[];
  /** Id of the step; "" for what is of a look. */
  step: string;
  /** Whether it is of a look, whose layers do not remember. */
  inLook: boolean;
  /** Whether it decides a colour, which a picture among its layers may have itself. */
  ofColour?: boolean;
}

/** Row of the recipe of a look. */
export function lookRow(look: string): string {
  return `${LOOK_ROW}/${look}`;
}

/** The look of a row; undefined for rows of something else. */
export function lookOfRow(piece: Piece | undefined, row: string | null): Look | undefined {
  return piece?.looks?.find((look) => lookRow(look.id) === row);
}

export function stepOwner(piece: Piece, step: Step): MaskOwner {
  return {
    at: `/pieces/${piece.id}/recipe/${step.id}`,
    below: "",
    layers: step.where?.layers ?? [],
    step: step.id,
    inLook: false,
  };
}

export function lookOwner(piece: Piece, look: Look): MaskOwner {
  return {
    at: `/pieces/${piece.id}/looks/${look.id}`,
    below: "",
    layers: look.where?.layers ?? [],
    step: "",
    inLook: true,
  };
}

export function byOwner(piece: Piece, look: Look, by: By): MaskOwner {
  return {
    at: `/pieces/${piece.id}/looks/${look.id}/by/${by.id}`,
    below: `by/${by.id}/`,
    layers: by.where?.layers ?? [],
    step: "",
    inLook: true,
  };
}

/** How the interface remembers which layer is unfolded: by its id, or, of a look, which has several
 * masks, by its path below the look. */
export function layerName(owner: MaskOwner, layer: string): string {
  return owner.inLook ? `${owner.below}where/layers/${layer}` : layer;
}

/** A layer of a look by the name of it. */
export function layerOfLook(look: Look, name: string | null): Layer | undefined {
  const found = /^(?:by\/([^/]+)\/)?where\/layers\/([^/]+)$/.exec(name ?? "");
  if (!found) return undefined;
  const [, by, id] = found;
  const where = by ? look.by?.find((each) => each.id === by)?.where : look.where;
  return where?.layers?.find((layer) => layer.id === id);
}
