import { Box } from "@mui/material";
import type { Lane, StudyState } from "../api/client";
import { loopOf, type DocValue, type Piece } from "../api/document";
import { documentOf, useCatalogue } from "../api/queries";
import { CarriedRow } from "./CarriedRow";
import { FoldRow } from "./FoldRow";
import { Sparkline } from "./Sparkline";
import { ValueList } from "./ValueList";
import { SignalEditor } from "./SignalEditor";
import { useChange } from "./useStep";

export const PLACE_ROW = "place-of-piece";

/** Where the piece stands on the stage; moving it streams no points. */
export function PlaceRow(props: { state: StudyState; piece: Piece; lanes: Lane[] }) {
  const { state, piece, lanes } = props;
  const catalogue = useCatalogue().data;
  const base = `/pieces/${piece.id}`;
  const change = useChange(state.id, `${base}/place`);
  if (!catalogue) return null;
  const { frames, rate } = loopOf(documentOf(state));
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
      <ValueList
        entries={catalogue.place_values}
        given={piece.place ?? {}}
        lanes={lanes}
        path="place"
        at={`${base}/place`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={(name: string, value: DocValue) => change.live(name, value)}
        store={change.store}
      />
      <CarriedRow state={state} address={base} carried={piece.carried} />
      <Box sx={{ mt: 1 }}>
        {lanes.map((lane) => (
          <SignalEditor
            key={lane.path}
            state={state}
            piece={piece.id}
            step=""
            base={base}
            holder={piece}
            lane={lane}
          />
        ))}
      </Box>
    </FoldRow>
  );
}
