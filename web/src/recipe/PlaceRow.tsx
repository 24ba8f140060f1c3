import type { Lane, StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { FoldRow } from "./FoldRow";
import { PlaceEditor } from "./PlaceEditor";
import { Sparkline } from "./Sparkline";

export const PLACE_ROW = "place-of-piece";

/** Where the piece stands on the stage; moving it streams no points. */
export function PlaceRow(props: { state: StudyState; piece: Piece; lanes: Lane[] }) {
  const { state, piece, lanes } = props;
  const catalogue = useCatalogue().data;
  const base = `/pieces/${piece.id}`;
  if (!catalogue) return null;
  const said = Object.keys(piece.place ?? {});
  if (piece.carried) said.push("carried");
  const summary = said.length ? said.join(", ") : "as it was made";
  return (
    <FoldRow
      id={PLACE_ROW}
      title="Place"
      summary={summary}
      picture={<Sparkline samples={lanes[0]?.samples} />}
    >
      <PlaceEditor
        state={state}
        base={base}
        holder={piece}
        entries={catalogue.place_values}
        lanes={lanes}
        piece={piece.id}
      />
    </FoldRow>
  );
}
