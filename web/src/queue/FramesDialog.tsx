import ChevronLeft from "@mui/icons-material/ChevronLeft";
import ChevronRight from "@mui/icons-material/ChevronRight";
import { Box, ButtonBase, Dialog, DialogTitle, IconButton, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { JobState, Schemas } from "../api/client";
import { costWords, editionOf } from "../model/jobWords";
import { ClipOfFrames } from "./ClipOfFrames";
import type { JobActions } from "./useQueue";

interface Props {
  job: JobState;
  actions: JobActions;
  close: () => void;
}

/** The frames of a job as a strip, one of them large, and what can be made of them. */
export function FramesDialog({ job, actions, close }: Props) {
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ typography: "h2", pb: 1 }}>{job.label}</DialogTitle>
      {job.queued && <Frames job={job} queued={job.queued} actions={actions} close={close} />}
    </Dialog>
  );
}

function Frames({ job, queued, actions, close }: Props & { queued: Schemas["QueuedTold"] }) {
  const { frames, costs, pictures, total } = queued;
  const [at, setAt] = useState(0);
  const strip = useRef<HTMLDivElement>(null);
  const shown = frames[Math.min(at, frames.length - 1)] ?? 0;
  const by = (step: number) =>
    setAt((now) => Math.min(Math.max(now + step, 0), Math.max(frames.length - 1, 0)));
  useHotkeys("left", () => by(-1), [frames.length]);
  useHotkeys("right", () => by(1), [frames.length]);
  useEffect(() => {
    strip.current?.querySelector("[aria-current=true]")?.scrollIntoView({ inline: "nearest" });
  }, [at]);
  return (
    <Box sx={{ px: 3, pb: 2.5 }}>
      <Box
        sx={{
          position: "relative",
          bgcolor: "#15121c",
          borderRadius: 2,
          overflow: "hidden",
          height: "min(52vh, 560px)",
        }}
      >
        <Box
          component="img"
          src={`/api/jobs/${job.id}/frames/${shown}?edition=${editionOf(job)}`}
          alt={`Frame ${shown}`}
          sx={{ width: "100%", height: "100%", objectFit: "contain", display: "block" }}
        />
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, my: 1 }}>
        <IconButton aria-label="Frame before" onClick={() => by(-1)} disabled={at <= 0}>
          <ChevronLeft />
        </IconButton>
        <IconButton
          aria-label="Frame after"
          onClick={() => by(1)}
          disabled={at >= frames.length - 1}
        >
          <ChevronRight />
        </IconButton>
        <Typography variant="body2">
          Picture {shown + 1} of {pictures}
          {costs[shown] != null && `, made in ${costWords([costs[shown]])}`}
        </Typography>
        <Typography variant="body2" color="textSecondary" sx={{ ml: "auto" }}>
          {queued.width} × {queued.height} · {costWords(costs)}
        </Typography>
      </Box>
      <Box
        ref={strip}
        data-testid="frames"
        sx={{ display: "flex", gap: 0.5, overflowX: "auto", pb: 1, mb: 1.5 }}
      >
        {frames.map((frame, k) => (
          <ButtonBase
            key={frame}
            aria-label={`Picture ${frame + 1}`}
            aria-current={frame === shown}
            onClick={() => setAt(k)}
            sx={{
              flex: "none",
              borderRadius: 1,
              overflow: "hidden",
              // Over the picture, which would hide an outline of its own.
              "&::after": {
                content: '""',
                position: "absolute",
                inset: 0,
                borderRadius: 1,
                border: frame === shown ? "3px solid" : "none",
                borderColor: "roles.where",
              },
            }}
          >
            <Box
              component="img"
              loading="lazy"
              src={`/api/jobs/${job.id}/frames/${frame}?small=320&edition=${editionOf(job)}`}
              alt=""
              sx={{
                height: 64,
                aspectRatio: `${queued.width} / ${queued.height}`,
                display: "block",
                bgcolor: "#15121c",
              }}
            />
          </ButtonBase>
        ))}
      </Box>
      <ClipOfFrames
        queued={queued}
        whole={queued.done >= total}
        make={(body) => {
          actions.clip(job.id, body);
          close();
        }}
      />
    </Box>
  );
}
