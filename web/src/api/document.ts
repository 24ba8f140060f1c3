/** The study document as the interface reads it; the server's models are the truth. */
import type { StudyState } from "./client";

export type Scalar = number | SignalValue | { draft: Scalar; final: Scalar };
export type DocValue = Scalar | Scalar[] | string | boolean;

export interface KeyPoint {
  frame: number;
  value: number;
  ease?: "linear" | "smooth" | "held";
  /** Slopes before and after it, in value per frame, where they are set by hand. */
  in?: number | null;
  out?: number | null;
}

export interface SignalValue {
  signal: string;
  keys?: KeyPoint[];
  [name: string]: unknown;
}

/** What carries a piece, a marker, a step or a mask layer. */
export interface Carried {
  by: "piece" | "marker" | "layer";
  id: string;
}

export interface Layer {
  id: string;
  layer: string;
  on?: boolean;
  carried?: Carried | null;
  values?: Record<string, DocValue>;
  [name: string]: unknown;
}

export interface Step {
  id: string;
  step: string;
  on?: boolean;
  note?: string;
  group?: string | null;
  carried?: Carried | null;
  values?: Record<string, DocValue>;
  where?: { layers?: Layer[]; store?: string; moves?: string };
}

/** A value that a group shows first: of one of its steps, as a path inside the step. */
export interface Front {
  id: string;
  step: string;
  value: string;
  name?: string;
}

export interface Group {
  id: string;
  name: string;
  front?: Front[];
}

export interface Piece {
  id: string;
  name: string;
  visible?: boolean;
  recipe: Step[];
  groups?: Group[];
  place?: Record<string, DocValue>;
  carried?: Carried | null;
  looks?: Look[];
}

/** How a piece is drawn. */
export interface Look {
  id: string;
  look: string;
  values?: Record<string, DocValue>;
}

/** A bare place on the stage that signals move and that carries other things. */
export interface Marker {
  id: string;
  name: string;
  place?: Record<string, DocValue>;
  carried?: Carried | null;
}

export interface VariantOption {
  id: string;
  name: string;
  /** What it has at each address, while another option is chosen. */
  kept?: Record<string, DocValue>;
}

/** One choice that switches several values, steps, pieces and looks together. */
export interface Variant {
  id: string;
  name: string;
  chosen: string;
  options: VariantOption[];
}

export interface StudyDocument {
  format: string;
  version: number;
  name: string;
  note?: string;
  loop?: { frames?: number; rate?: number; one_way?: boolean };
  pieces: Piece[];
  markers?: Marker[];
  variants?: Variant[];
  deliver?: { tolerance?: number };
  /** Ids of findings that are meant so. */
  intended?: string[];
}

export function isSignal(value: unknown): value is SignalValue {
  return typeof value === "object" && value !== null && "signal" in value;
}

export function isPair(value: unknown): value is { draft: Scalar; final: Scalar } {
  return typeof value === "object" && value !== null && "draft" in value;
}

export function loopOf(document: StudyDocument) {
  const { frames = 240, rate = 24, one_way = false } = document.loop ?? {};
  return { frames, rate, oneWay: one_way };
}

/** The marker whose value stands at an address. */
export function markerAt(document: StudyDocument, address: string): Marker | undefined {
  const [, kind, id] = address.split("/");
  return kind === "markers" ? document.markers?.find((m) => m.id === id) : undefined;
}

/** A short id that is not used yet. */
export function freshId(prefix: string, taken: string[]): string {
  for (let n = taken.length + 1; ; n++) {
    const id = `${prefix}${n}`;
    if (!taken.includes(id)) return id;
  }
}

export function documentOf(state: StudyState): StudyDocument {
  return state.document as unknown as StudyDocument;
}
