import type { Operation } from "../../api/client";
import type { Slice } from "./slice";

/** What the pointer does on the stage besides turning the view. */
export type Tool = "brush" | "pick" | "place";

export interface Brush {
  does: "paint" | "erase" | "soften";
  /** Radius in metres; null until it is known how large the piece is. */
  size: number | null;
  /** % */
  strength: number;
  softness: number;
}

/** What a hand is doing. */
export interface Gesture {
  /** Changes that a gesture makes while it lasts; stored as one edit when it ends. */
  live: Operation[];
  dragging: boolean;
  /** The view is being turned, moved or zoomed. */
  turning: boolean;
  /** What the grip under the pointer sets. */
  gripSays: string;
  /** How the tool that is in use is used. */
  toolSays: string;
  /** Knots are added to paths by clicks on the stage. */
  drawing: boolean;
  tool: Tool | null;
  brush: Brush;
  /** Whether what is picked joins or leaves, and whether a box takes what faces away as well. */
  pick: { how: "add" | "remove"; through: boolean };
  setLive: (live: Operation[]) => void;
}

function idle() {
  return {
    live: [],
    dragging: false,
    turning: false,
    gripSays: "",
    toolSays: "",
    drawing: false,
    tool: null,
    brush: { does: "paint", size: null, strength: 100, softness: 70 } as Brush,
  };
}

export const gesture: Slice<Gesture, keyof ReturnType<typeof idle>> = {
  create: (set) => ({
    ...idle(),
    pick: { how: "add", through: false },
    setLive: (live) => set({ live }),
  }),
  perStudy: idle,
};
