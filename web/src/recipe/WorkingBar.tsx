import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { client } from "../api/client";

interface Props {
  study: string;
  piece: string;
  title: string;
  /** How much of the step is done, from 0 to 1; 0 where that is not known. */
  share: number;
}

/** How far a step is that takes long, and a way to stop it; the stage keeps its last picture. */
export function WorkingBar({ study, piece, title, share }: Props) {
  const stop = () =>
    client.POST("/api/studies/{study_id}/pieces/{piece_id}/stop", {
      params: { path: { study_id: study, piece_id: piece } },
    });
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, pl: "44px", pr: 1, pb: 0.5 }}>
      <LinearProgress
        aria-label={`${title} is being made`}
        variant={share > 0 ? "determinate" : "indeterminate"}
        value={share * 100}
        sx={{ flex: 1, height: 3, borderRadius: 2 }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ width: 32, textAlign: "right" }}>
        {share > 0 ? `${Math.round(share * 100)} %` : ""}
      </Typography>
      <Button
        size="small"
        onClick={() => void stop()}
        title="The stage keeps its last picture; a change makes it anew"
        sx={{ py: 0, minWidth: 0 }}
      >
        Stop
      </Button>
    </Box>
  );
}
