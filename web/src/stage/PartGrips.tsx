import type { CatalogueEntry, StudyState } from "../api/client";
import { documentOf, loopOf, type DocValue } from "../api/document";
import { useEdit } from "../common/edits";
import { useInterface } from "../common/store/store";
import { heldValues } from "./heldValues";
import { ValueGrips } from "./ValueGrips";

interface Props {
  state: StudyState;
  size: number;
  /** Of a light or a camera. */
  address: string;
  part: { name: string; values?: Record<string, DocValue>; carried?: unknown };
  entry: CatalogueEntry;
}

/** What is dragged of a light or a camera. */
export function PartGrips({ state, size, address, part, entry }: Props) {
  const frame = useInterface((s) => (s.playing ? 0 : s.frame));
  const live = useInterface((s) => s.live);
  const edit = useEdit(state.id);
  // What carries it moves it; its own places are not where it stands then.
  if (part.carried) return null;
  const held = heldValues({
    path: `${address}/values`,
    prefix: "values",
    holder: part.values ?? {},
    entries: entry.values,
    lanes: state.scene.parts.find((each) => each.address === address)?.lanes ?? [],
    live,
    frame,
    frames: loopOf(documentOf(state)).frames,
    store: (operations) => edit.mutate({ label: `Drag ${part.name.toLowerCase()}`, operations }),
  });
  return <ValueGrips grips={entry.grips} values={entry.values} size={size} {...held} />;
}
