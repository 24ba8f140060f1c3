import { Box, Typography } from "@mui/material";
import type { StepWords, StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { SignalEditor } from "../common/signals/SignalEditor";

interface Props {
  state: StudyState;
  piece: Piece;
  /** Id of the step; "" of a look. */
  step: string;
  /** Address of the step or look. */
  base: string;
  words: StepWords;
}

/** The signals of a step or a look. */
export function When({ state, piece, step, base, words }: Props) {
  if (words.lanes.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
        {words.by_time
          ? "It moves by itself, as What says; the wave ∿ beside a value makes that move too."
          : "Nothing moves here. The wave ∿ beside a value makes it move."}
      </Typography>
    );
  }
  return (
    <Box>
      {words.lanes.map((lane) => (
        <SignalEditor
          key={lane.path}
          state={state}
          piece={piece.id}
          step={step}
          base={base}
          lane={lane}
        />
      ))}
    </Box>
  );
}
