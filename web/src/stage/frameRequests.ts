import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import type { ShardsShown } from "../common/store/viewing";
import type { FrameRequest } from "./frameSource";
import { strideOf } from "./decimation";

export interface Viewing {
  quality: "draft" | "final";
  /** Whether the mask of the chosen step is shown as heat. */
  heat: boolean;
  step: string | null;
  shards: ShardsShown;
  /** Whether it plays or is dragged. */
  moving: boolean;
}

/** The frame that shows a piece at a time; null where the server has not told of the piece yet. */
export function wishFor(
  state: StudyState,
  piece: Piece,
  frame: number,
  { quality, heat, step, moving, shards }: Viewing,
): FrameRequest | null {
  const motion = state.motion.find((m) => m.id === piece.id);
  if (!motion) return null;
  // A form has no mask.
  const masked = heat && piece.recipe.some((s, k) => s.id === step && k > 0);
  return {
    study: state.id,
    piece: piece.id,
    key: quality === "final" ? motion.final_key : motion.key,
    frame: motion.moves ? frame : 0,
    quality,
    maskOf: masked ? step : null,
    stride: strideOf(state.id, piece.id, moving),
    shards,
  };
}
