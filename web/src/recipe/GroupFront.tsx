import { Box } from "@mui/material";
import type { StudyState } from "../api/client";
import { loopOf, type Group, type Piece, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { StepPlace } from "../common/values/stepPlace";
import { ValueRow } from "../common/values/ValueRow";
import { frontOf, type FrontValue } from "../model/frontValues";

interface Props {
  state: StudyState;
  piece: Piece;
  group: Group;
}

/** The values that a group shows first, to be set without opening its steps. */
export function GroupFront({ state, piece, group }: Props) {
  const catalogue = useCatalogue().data;
  const shown = catalogue ? frontOf(group, piece.recipe, catalogue) : [];
  if (!shown.length) return null;
  return (
    <Box
      sx={{
        ml: "18px",
        mr: 1.5,
        mb: 1,
        pl: 1.25,
        borderLeft: "3px solid",
        borderColor: "roles.what",
      }}
    >
      {shown.map((value) => (
        <FrontRow key={value.front.id} state={state} piece={piece} value={value} />
      ))}
    </Box>
  );
}

function FrontRow(props: { state: StudyState; piece: Piece; value: FrontValue }) {
  const { state, piece, value } = props;
  const set = useInterface((s) => s.set);
  const { step, path, name, entry, given } = value;
  const change = useChange(state.id, `/pieces/${piece.id}/recipe/${step.id}`);
  const { frames, rate } = loopOf(documentOf(state));
  const words = state.motion.find((m) => m.id === piece.id)?.steps.find((w) => w.id === step.id);
  return (
    <StepPlace.Provider value={{ study: state.id, piece: piece.id, step: step.id }}>
      <ValueRow
        name={name}
        entry={entry}
        value={given}
        lanes={words?.lanes ?? []}
        path={path}
        address={`/pieces/${piece.id}/recipe/${step.id}/${path}`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={(v) => change.live(path, v)}
        store={(v, label) => change.store(path, v, label ?? `Set ${entry.label.toLowerCase()}`)}
        openSignal={() => set({ step: step.id, ribbon: "when" })}
      />
    </StepPlace.Provider>
  );
}
