import type { Grip, Lane, StudyState } from "../api/client";
import { loopOf, type DocValue, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useEdit } from "../common/edits";
import { useInterface } from "../common/store/store";
import { matrixAt } from "./matrixAt";
import { heldValues } from "./heldValues";
import { ValueGrips } from "./ValueGrips";

const foot = { along: [1, 0, 0], per: 1, round: null, beside: false, turned: null };
const GRIPS = [
  { ...foot, kind: "spot", value: "move", foot: [] },
  { ...foot, kind: "gimbal", value: "turn", foot: [{ value: "move", times: null }] },
] as unknown as Grip[];

interface Props {
  state: StudyState;
  /** Of the piece or marker in the document. */
  address: string;
  title: string;
  place: Record<string, DocValue>;
  lanes: Lane[];
  /** Where what carries it is at each frame; nothing where nothing does. */
  bases: number[][];
  /** Metres. */
  size: number;
}

/** Where a piece or a marker stands: its middle is dragged, and three rings turn it. */
export function PlaceHandles({ state, address, title, place, lanes, bases, size }: Props) {
  const playing = useInterface((s) => s.playing);
  const frame = useInterface((s) => (s.playing ? 0 : s.frame));
  const live = useInterface((s) => s.live);
  const catalogue = useCatalogue().data;
  const edit = useEdit(state.id);
  if (playing || !catalogue) return null;
  const path = `${address}/place`;
  const held = heldValues({
    path,
    prefix: "place",
    holder: place,
    entries: catalogue.place_values,
    lanes,
    live,
    frame,
    frames: loopOf(documentOf(state)).frames,
    store: (operations) => edit.mutate({ label: `Place ${title}`, operations }),
  });
  const base = matrixAt(bases, frame, loopOf(documentOf(state)).frames);
  return (
    <group
      matrixAutoUpdate={false}
      ref={(group) => {
        if (!group) return;
        if (base) group.matrix.fromArray(base);
        else group.matrix.identity();
        group.matrixWorldNeedsUpdate = true;
      }}
    >
      <ValueGrips grips={GRIPS} values={catalogue.place_values} {...held} size={size} />
    </group>
  );
}
