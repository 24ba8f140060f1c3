import type { Lane, StudyState } from "../api/client";
import { documentOf, isSignal, type Piece, type SignalValue } from "../api/document";
import { lookRow } from "../model/maskOwner";
import { PLACE_ROW } from "../model/rowIds";

/** A lane of what is worked on. */
export interface OwnLane {
  /** Address of its value. */
  path: string;
  /** Of its step in the recipe, or the name of what of the scene it belongs to. */
  number: string;
  /** The row of the recipe that it belongs to. */
  row: string | null;
  lane: Lane;
  signal: SignalValue | null;
}

const own = (lane: Lane, number: string, row: string | null): OwnLane => ({
  path: lane.address,
  number,
  row,
  lane,
  signal: isSignal(lane.given) ? lane.given : null,
});

/** What moves of lights, cameras and what is behind, under the names of these. */
function sceneLanes(state: StudyState): OwnLane[] {
  const { lights = [], cameras = [] } = documentOf(state);
  const names = new Map<string, string>([
    ...lights.map(({ id, name }): [string, string] => [`/lights/${id}`, name]),
    ...cameras.map(({ id, name }): [string, string] => [`/cameras/${id}`, name]),
  ]);
  return state.scene.parts.flatMap(({ address, lanes }) =>
    lanes.map((lane) => own(lane, names.get(address) ?? address.slice(1), null)),
  );
}

/** Every moving value of what is worked on: of a marker, or of a piece in the order of its recipe,
 * and after these of the scene. */
export function lanesOf(
  state: StudyState,
  piece: Piece | undefined,
  marked: string | null,
): OwnLane[] {
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
    ...motion.looks.flatMap(({ id, lanes }) => lanes.map((lane) => own(lane, "", lookRow(id)))),
    ...sceneLanes(state),
  ];
}
