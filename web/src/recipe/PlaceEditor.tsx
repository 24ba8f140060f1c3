import { Box } from "@mui/material";
import type { ReactNode } from "react";
import type { Lane, StudyState, ValueEntry } from "../api/client";
import { loopOf, type Marker, type Piece, documentOf } from "../api/document";
import { useChange } from "../common/useStep";
import { CarriedRow } from "../common/CarriedRow";
import { SignalEditor } from "../common/signals/SignalEditor";
import { ValueList } from "../common/values/ValueList";

interface Props {
  state: StudyState;
  /** Address of the piece or marker. */
  base: string;
  holder: Piece | Marker;
  entries: Record<string, ValueEntry>;
  lanes: Lane[];
  /** Id of the piece; none for a marker. */
  piece?: string;
  children?: ReactNode;
}

/** Where a piece or a marker stands, what carries it, and what moves it. */
export function PlaceEditor({ state, base, holder, entries, lanes, piece, children }: Props) {
  const change = useChange(state.id, `${base}/place`);
  const { frames, rate } = loopOf(documentOf(state));
  return (
    <>
      <ValueList
        entries={entries}
        given={holder.place ?? {}}
        lanes={lanes}
        path="place"
        at={`${base}/place`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={change.live}
        store={change.store}
      />
      <Box sx={{ borderTop: "1px solid", borderColor: "divider", mt: 1, pt: 0.75, mb: 0.75 }}>
        <CarriedRow state={state} address={base} carried={holder.carried} placed sticks />
      </Box>
      {children}
      {lanes.map((lane) => (
        <SignalEditor
          key={lane.path}
          state={state}
          piece={piece ?? ""}
          step=""
          base={base}
          lane={lane}
        />
      ))}
    </>
  );
}
