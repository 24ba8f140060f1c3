import { Box, Typography } from "@mui/material";
import type { StepWords, StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { SignalEditor } from "./SignalEditor";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
}

/** The signals of a step. */
export function When({ state, piece, step, words }: Props) {
  if (words.lanes.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
        {words.by_time
          ? "It moves by itself, as What says; the wave ∿ beside a value makes that move too."
          : "Nothing moves here. The wave ∿ beside a value makes it move."}
      </Typography>
    );
  }
  const base = `/pieces/${piece.id}/recipe/${step.id}`;
  return (
    <Box>
      {words.lanes.map((lane) => (
        <SignalEditor
          key={lane.path}
          state={state}
          piece={piece.id}
          step={step.id}
          base={base}
          lane={lane}
        />
      ))}
    </Box>
  );
}
