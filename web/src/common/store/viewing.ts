import type { Domain, TableState } from "../../model/tableState";
import type { Slice } from "./slice";

/** "traced" is drawn by path tracing where the view rests, and as a surface while it moves. */
export type DrawMode = "surface" | "edges" | "wire" | "points" | "traced";
export type ShardsShown = "as they are" | "coloured" | "apart";
export type View = "perspective" | "camera" | "front" | "side" | "top";
/** What is drawn over the picture that the study’s camera sees. */
export type Guide = "thirds" | "safe" | "centre";

/** How the stage shows the study. */
export interface Viewing {
  heat: boolean;
  draw: DrawMode;
  quality: "draft" | "final";
  /** How shards are told apart, for a look that changes nothing. */
  shards: ShardsShown;
  /** Where from it is looked at; a higher count asks to go there anew. */
  view: { name: View; count: number; fit: boolean };
  /** Top, perspective, front and side at once. */
  four: boolean;
  guides: Guide[];
  /** Whether the stage shows where the loop jumps most. */
  seamShown: boolean;
  /** The table of elements, where it is open. */
  table: TableState | null;
  /** Elements whose numbers are written on the stage while they are picked. */
  numbered: Domain | null;
  look: (name: View) => void;
  /** Go on from where the study’s camera is, without it. */
  leaveCamera: () => void;
  /** Bring everything into view. */
  fit: () => void;
}

function fromTheFront() {
  return {
    heat: false,
    shards: "as they are" as ShardsShown,
    view: { name: "perspective" as View, count: 0, fit: false },
    four: false,
    seamShown: false,
    table: null,
    numbered: null,
  };
}

export const viewing: Slice<Viewing, keyof ReturnType<typeof fromTheFront>> = {
  create: (set) => ({
    ...fromTheFront(),
    draw: "surface",
    quality: "draft",
    guides: [],
    leaveCamera: () => set(({ view }) => ({ view: { ...view, name: "perspective", fit: false } })),
    look: (name) =>
      set(({ view, four }) => ({
        view: { name, fit: false, count: view.count + 1 },
        four: four && name === "perspective",
      })),
    fit: () => set(({ view }) => ({ view: { ...view, fit: true, count: view.count + 1 } })),
  }),
  perStudy: fromTheFront,
};
