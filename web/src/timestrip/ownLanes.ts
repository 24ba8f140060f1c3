import type { Lane, StudyState } from "../api/client";
import { documentOf, isSignal, type Piece, type SignalValue } from "../api/document";
import { PLACE_ROW } from "../model/rowIds";

/** A lane of what is worked on. */
export interface OwnLane {
  /** Address of its value. */
  path: string;
  /** Of its step in the recipe. */
  number: string;
  /** The row of the recipe that it belongs to. */
  row: string | null;
  lane: Lane;
  signal: SignalValue | null;
}

/** Every moving value of what is worked on: of a marker, or of a piece in the order of its recipe. */
export function lanesOf(
  state: StudyState,
  piece: Piece | undefined,
  marked: string | null,
): OwnLane[] {
  const own = (lane: Lane, number: string, row: string | null): OwnLane => ({
    path: lane.address,
    number,
    row,
    lane,
    signal: isSignal(lane.given) ? lane.given : null,
  });
  const isMarker = documentOf(state).markers?.some((m) => m.id === marked);
  if (isMarker) {
    const lanes = state.markers.find((m) => m.id === marked)?.lanes ?? [];
    return lanes.map((lane) => own(lane, "", null));
  }
  const motion = state.motion.find((m) => m.id === piece?.id);
  if (!motion) return [];
  return [
    ...motion.steps.flatMap(({ lanes }, index) =>
      lanes.map((lane) => own(lane, String(index + 1), lane.step)),
    ),
    ...motion.place_lanes.map((lane) => own(lane, "", PLACE_ROW)),
  ];
}
