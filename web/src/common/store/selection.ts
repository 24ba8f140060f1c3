import type { Slice } from "./slice";

export type Ribbon = "what" | "where" | "when";

/** What of the study is chosen, and what of it is being named or written. */
export interface Selection {
  piece: string | null;
  step: string | null;
  ribbon: Ribbon;
  layer: string | null;
  solo: string | null;
  /** The marker that stands in the recipe's place. */
  marker: string | null;
  /** The light whose values are open and whose handles stand on the stage. */
  light: string | null;
  camera: string | null;
  /** The other end of the steps that are chosen together, where they are several. */
  upTo: string | null;
  /** The value that was searched for, and is shown though it is not a main one. */
  sought: string | null;
  /** The group or piece that is being named, and the group whose front is being chosen. */
  naming: string | null;
  fronting: string | null;
  /** The step whose note is being written. */
  noting: string | null;
  addAfter: string | null;
  /** A line of the recipe is lifted to be moved, and has the arrow keys. */
  lifted: boolean;
}

function nothing(): Selection {
  return {
    piece: null,
    step: null,
    ribbon: "what",
    layer: null,
    solo: null,
    marker: null,
    light: null,
    camera: null,
    upTo: null,
    sought: null,
    naming: null,
    fronting: null,
    noting: null,
    addAfter: null,
    lifted: false,
  };
}

export const selection: Slice<Selection, keyof Selection> = {
  create: nothing,
  perStudy: nothing,
};

/** What else changes where something is chosen. */
export function chosen(part: Partial<Selection>): Partial<Selection> {
  let found = part;
  // Who turns to a piece or a step leaves the marker.
  if ((found.piece || found.step) && !("marker" in found)) found = { ...found, marker: null };
  if (found.marker) found = { step: null, solo: null, layer: null, ...found };
  // Another step is chosen alone.
  if ("step" in found && !("upTo" in found)) found = { ...found, upTo: null };
  return found;
}
