/** The study document as the interface reads it; its types are those of the served schema. */
import type { Schemas, StudyState } from "./client";

export type SignalValue = Schemas["SignalShape"];
export type Scalar = number | SignalValue | { draft: Scalar; final: Scalar };
/** A gradient with stops of its own. */
export type OwnGradient = Schemas["GradientShape"];
/** A colour that is read out of a gradient, at a place that a signal moves. */
export type MovingColour = Schemas["MovingColourShape"];
export type DocValue =
  Scalar | Scalar[] | Record<string, unknown>[] | string | boolean | OwnGradient | MovingColour;
export type KeyPoint = Schemas["KeyShape"];
/** What carries a piece, a marker, a step or a mask layer. */
/** What carries something; of what may stick to a surface, at which place of it as well. */
export type Carried = Schemas["CarriedShape"] &
  Partial<Pick<Schemas["SurfaceCarriedShape"], "at_rest" | "smooth">>;
export type Layer = Schemas["LayerShape"];
export type Step = Schemas["StepShape"];
export type Front = Schemas["FrontShape"];
export type Group = Schemas["GroupShape"];
export type Look = Schemas["LookShape"];
/** What of a look goes by value. */
export type By = Schemas["ByShape"];
export type Piece = Schemas["PieceShape"];
export type Marker = Schemas["MarkerShape"];
export type Light = Schemas["LightShape"];
export type Camera = Schemas["CameraShape"];
export type VariantOption = Schemas["OptionShape"];
export type Variant = Schemas["VariantShape"];
export type StudyDocument = Schemas["DocumentShape"];

export function isSignal(value: unknown): value is SignalValue {
  return typeof value === "object" && value !== null && "signal" in value;
}

export function isMovingColour(value: unknown): value is MovingColour {
  return typeof value === "object" && value !== null && "gradient" in value && "at" in value;
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
  return state.document;
}

/** Whether something that can be switched off is in use. */
export function isOn(part: { on?: boolean }): boolean {
  return part.on !== false;
}
