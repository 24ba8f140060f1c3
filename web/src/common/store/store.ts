import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { TableState } from "../table/tableState";
import type { ErrorBody, Operation } from "../api/client";
import type { Edit } from "../api/queries";
import type { DocValue, KeyPoint } from "../api/document";
import type { ThemeName } from "../theme/theme";

export type Ribbon = "what" | "where" | "when";
export type DrawMode = "surface" | "edges" | "wire" | "points";
export type View = "perspective" | "front" | "side" | "top";
export type Pace = "time" | "every";
export type PlayMode = "loop" | "once" | "both";

export interface Notice {
  text: string;
  tone: "info" | "error";
  action?: { label: string; run: () => void };
}

/** What the pointer does on the stage besides turning the view. */
export type Tool = "brush" | "pick";

export interface Brush {
  does: "paint" | "erase" | "soften";
  /** Radius in metres; null until it is known how large the piece is. */
  size: number | null;
  /** % */
  strength: number;
  softness: number;
}

export interface KeyRef {
  path: string;
  index: number;
}

interface State {
  theme: ThemeName;
  piece: string | null;
  step: string | null;
  ribbon: Ribbon;
  layer: string | null;
  solo: string | null;
  /** The marker that stands in the recipe's place. */
  marker: string | null;
  frame: number;
  playing: boolean;
  pace: Pace;
  mode: PlayMode;
  /** Whether the sound that a study listens to is heard while it plays. */
  hearing: boolean;
  /** First and last frame that play; null where all do. */
  range: [number, number] | null;
  ready: ReadonlySet<number>;
  /** Frames of which a picture is kept, which is shown at no cost. */
  pictures: ReadonlySet<number>;
  heat: boolean;
  draw: DrawMode;
  quality: "draft" | "final";
  /** Where from it is looked at; a higher count asks to go there anew. */
  view: { name: View; count: number; fit: boolean };
  /** Top, perspective, front and side at once. */
  four: boolean;
  /** Changes that a gesture makes while it lasts; stored as one edit when it ends. */
  live: Operation[];
  dragging: boolean;
  /** The view is being turned, moved or zoomed. */
  turning: boolean;
  stepErrors: Record<string, string>;
  /** What the grip under the pointer sets. */
  gripSays: string;
  /** How the tool that is in use is used. */
  toolSays: string;
  stageError: string | null;
  times: Record<string, { ms: number; reused: boolean; change: string }>;
  counts: { points: number; faces: number; curves: number; ms: number; rate: number };
  /** What holds the rate back while playing, in words; empty where nothing does. */
  heldBack: string;
  /** Pixels that the recipe is wide and the time strip high. */
  sizes: { recipe: number; strip: number };
  notice: Notice | null;
  /** What clashed: an edit, or taking one back. */
  clash: { error: ErrorBody; edit?: Edit; takeBack?: "undo" | "redo" } | null;
  dialog: "find" | "keys" | "deliver" | "history" | "add" | "piece" | "exchange" | "front" | null;
  addAfter: string | null;
  /** The table of elements, where it is open. */
  table: TableState | null;
  /** The other end of the steps that are chosen together, where they are several. */
  upTo: string | null;
  /** Groups whose steps are shown. */
  unfolded: Record<string, boolean>;
  /** The value that was searched for, and is shown though it is not a main one. */
  sought: string | null;
  /** The group or piece that is being named, and the group whose front is being chosen. */
  naming: string | null;
  fronting: string | null;
  /** A line of the recipe is lifted to be moved, and has the arrow keys. */
  lifted: boolean;
  /** Knots are added to paths by clicks on the stage. */
  drawing: boolean;
  tool: Tool | null;
  brush: Brush;
  /** Whether what is picked joins or leaves, and whether a box takes what faces away as well. */
  pick: { how: "add" | "remove"; through: boolean };
  /** The step whose note is being written. */
  noting: string | null;
  key: KeyRef | null;
  /** A value that was copied, with its signal. */
  copiedValue: { address: string; label: string; value: DocValue; moves: boolean } | null;
  copiedKeys: { keys: KeyPoint[] } | null;
  /** Path of the lane that is open as a curve. */
  curve: string | null;
  /** What stands over the right side of the stage. */
  sheet: "findings" | "variants" | null;
  /** Whether the stage shows where the loop jumps most. */
  seamShown: boolean;
  copiedKey: { value: number; ease?: "linear" | "smooth" | "held" } | null;
  set: (part: Partial<State>) => void;
  /** Begin with a study, as it was left where that is known. */
  open: (before: Partial<State>) => void;
  fold: (group: string, folded: boolean) => void;
  setLive: (live: Operation[]) => void;
  setClash: (clash: State["clash"]) => void;
  say: (notice: Notice) => void;
  look: (name: View) => void;
  /** Bring everything into view. */
  fit: () => void;
}

const HEARING = "zygomorph-hearing";
const THEME = "zygomorph-theme";
const SIZES = "zygomorph-sizes";

function storedSizes(): State["sizes"] {
  const usual = { recipe: 372, strip: 176 };
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(SIZES) ?? "{}") as object) };
  } catch {
    return usual;
  }
}

const FOLDS = "zygomorph-unfolded";

function storedFolds(): Record<string, boolean> {
  try {
    return JSON.parse(localStorage.getItem(FOLDS) ?? "{}") as Record<string, boolean>;
  } catch {
    return {};
  }
}

/** What is so when a study is opened, whatever was done in another one. */
function opened() {
  return {
    piece: null,
    step: null,
    ribbon: "what",
    layer: null,
    solo: null,
    marker: null,
    frame: 0,
    playing: false,
    range: null,
    ready: new Set(),
    pictures: new Set(),
    heat: false,
    view: { name: "perspective", count: 0, fit: false },
    four: false,
    live: [],
    dragging: false,
    turning: false,
    stepErrors: {},
    gripSays: "",
    toolSays: "",
    stageError: null,
    times: {},
    counts: { points: 0, faces: 0, curves: 0, ms: 0, rate: 0 },
    heldBack: "",
    clash: null,
    dialog: null,
    addAfter: null,
    table: null,
    upTo: null,
    naming: null,
    sought: null,
    fronting: null,
    lifted: false,
    drawing: false,
    tool: null,
    brush: { does: "paint", size: null, strength: 100, softness: 70 },
    noting: null,
    key: null,
    curve: null,
    sheet: null,
    seamShown: false,
  } satisfies Partial<State>;
}

export const useInterface = create<State>()((set) => ({
  ...opened(),
  theme: localStorage.getItem(THEME) === "night" ? "night" : "paper",
  hearing: localStorage.getItem(HEARING) !== "no",
  pace: "time",
  mode: "loop",
  draw: "surface",
  quality: "draft",
  sizes: storedSizes(),
  notice: null,
  unfolded: storedFolds(),
  pick: { how: "add", through: false },
  copiedKey: null,
  copiedValue: null,
  copiedKeys: null,
  set: (part) => {
    if (part.theme) localStorage.setItem(THEME, part.theme);
    // Who turns to a piece or a step leaves the marker.
    if ((part.piece || part.step) && !("marker" in part)) part = { ...part, marker: null };
    if (part.marker) part = { step: null, solo: null, layer: null, ...part };
    // Another step is chosen alone.
    if ("step" in part && !("upTo" in part)) part = { ...part, upTo: null };
    if (part.sizes) localStorage.setItem(SIZES, JSON.stringify(part.sizes));
    set(part);
  },
  open: (before) => set({ ...opened(), ...before }),
  fold: (group, folded) =>
    set(({ unfolded }) => {
      const next = { ...unfolded, [group]: !folded };
      localStorage.setItem(FOLDS, JSON.stringify(next));
      return { unfolded: next };
    }),
  setLive: (live) => set({ live }),
  setClash: (clash) => set({ clash }),
  say: (notice) => set({ notice }),
  look: (name) =>
    set(({ view, four }) => ({
      view: { name, fit: false, count: view.count + 1 },
      four: four && name === "perspective",
    })),
  fit: () => set(({ view }) => ({ view: { ...view, fit: true, count: view.count + 1 } })),
}));

/** Some parts of the interface's state; nothing is drawn again when another part changes. */
export function useParts<K extends keyof State>(...names: K[]): Pick<State, K> {
  return useInterface(
    useShallow((s) => Object.fromEntries(names.map((n) => [n, s[n]])) as Pick<State, K>),
  );
}

/** Whether sounds are heard while it plays; remembered by this browser. */
export function setHearing(hearing: boolean) {
  localStorage.setItem(HEARING, hearing ? "yes" : "no");
  useInterface.setState({ hearing });
}
