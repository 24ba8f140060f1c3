import type { Lane, StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { placeWords } from "../model/placeWords";
import { PLACE_ROW } from "../model/rowIds";
import { FoldRow } from "./FoldRow";
import { PlaceEditor } from "./PlaceEditor";
import { Sparkline } from "./Sparkline";

/** Where the piece stands on the stage; moving it streams no points. */
export function PlaceRow(props: { state: StudyState; piece: Piece; lanes: Lane[] }) {
  const { state, piece, lanes } = props;
  const catalogue = useCatalogue().data;
  const quality = useInterface((s) => s.quality);
  const base = `/pieces/${piece.id}`;
  if (!catalogue) return null;
  const summary = placeWords(piece, catalogue.place_values, quality);
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
