import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import DragIndicator from "@mui/icons-material/DragIndicator";
import PauseOutlined from "@mui/icons-material/PauseOutlined";
import PlayArrow from "@mui/icons-material/PlayArrow";
import ReplayOutlined from "@mui/icons-material/ReplayOutlined";
import ViewInArOutlined from "@mui/icons-material/ViewInArOutlined";
import BrushOutlined from "@mui/icons-material/BrushOutlined";
import {
  Box,
  Button,
  ButtonBase,
  IconButton,
  LinearProgress,
  Tooltip,
  Typography,
} from "@mui/material";
import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { ReactNode } from "react";
import type { JobState } from "../api/client";
import { bytesWords, editionOf, isRunning, stateWords } from "../model/jobWords";
import { CostBars } from "./CostBars";
import { DrawHere } from "../common/DrawHere";
import { FilmStrip } from "./FilmStrip";
import type { JobActions } from "./useQueue";

interface Props {
  job: JobState;
  actions: JobActions;
  open: () => void;
}

const STRIP = { width: 372, height: 72, places: 6 };

/** A job: its frames as they come, how far it is, and what can be done with it. */
export function JobRow({ job, actions, open }: Props) {
  const {
    attributes,
    listeners,
    setNodeRef,
    setActivatorNodeRef,
    transform,
    transition,
    isDragging,
  } = useSortable({ id: job.id, disabled: !job.queued });
  const { queued } = job;
  return (
    <Box
      component="article"
      ref={setNodeRef}
      aria-label={job.label}
      data-testid={`job ${job.id}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      sx={{
        display: "grid",
        gridTemplateColumns: `20px ${STRIP.width}px minmax(0, 1fr) auto`,
        gap: 2,
        alignItems: "center",
        p: 1.5,
        mb: 1.5,
        borderRadius: 3,
        border: "1px solid",
        borderColor: "divider",
        bgcolor: "roles.card",
        position: "relative",
        zIndex: isDragging ? 2 : undefined,
        boxShadow: isDragging ? 6 : undefined,
      }}
    >
      {queued ? (
        <Box
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${job.label}`}
          sx={{ cursor: "grab", color: "text.secondary", display: "flex", touchAction: "none" }}
        >
          <DragIndicator fontSize="small" />
        </Box>
      ) : (
        <span />
      )}
      <Seen job={job} open={open} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 600 }} noWrap title={job.label}>
          {job.label}
        </Typography>
        <Typography variant="body2" color="textSecondary" role="status">
          {stateWords(job)}
        </Typography>
        {isRunning(job) && (
          <LinearProgress
            variant="determinate"
            value={job.share * 100}
            aria-label={`Progress of ${job.label}`}
            sx={{ mt: 0.75, borderRadius: 1 }}
          />
        )}
        {job.message && (
          <Typography
            variant="body2"
            role="alert"
            color={job.state === "failed" ? "error" : undefined}
            sx={job.state === "failed" ? {} : { color: "roles.amber" }}
          >
            {job.message} {job.hint}
          </Typography>
        )}
        {queued && (
          <Box sx={{ mt: 0.75 }}>
            <CostBars costs={queued.costs} />
          </Box>
        )}
      </Box>
      <Buttons job={job} actions={actions} />
    </Box>
  );
}

/** What of it can be seen; a click shows all of its frames. */
function Seen({ job, open }: { job: JobState; open: () => void }) {
  const { queued } = job;
  if (queued && queued.width > 0)
    return (
      <ButtonBase
        onClick={open}
        disabled={queued.done === 0}
        aria-label={`Frames of ${job.label}`}
        sx={{ display: "block", borderRadius: 2, width: STRIP.width, textAlign: "left" }}
      >
        <FilmStrip
          id={job.id}
          edition={editionOf(job)}
          queued={queued}
          places={STRIP.places}
          height={STRIP.height}
        />
      </ButtonBase>
    );
  return (
    <Box
      sx={{
        height: STRIP.height,
        borderRadius: 2,
        bgcolor: "roles.quiet",
        color: "text.secondary",
        display: "flex",
        alignItems: "center",
        justifyContent: "center",
        gap: 1,
      }}
    >
      {queued ? <ViewInArOutlined /> : <BrushOutlined />}
      <Typography variant="body2">
        {queued ? `${queued.done} of ${queued.total}` : "drawn in a window"}
      </Typography>
    </Box>
  );
}

function Buttons({ job, actions }: { job: JobState; actions: JobActions }) {
  const { id, state, queued, label } = job;
  const small = (words: string, act: (id: string) => void, icon: ReactNode) => (
    <Tooltip title={words}>
      <IconButton aria-label={`${words}: ${label}`} onClick={() => act(id)}>
        {icon}
      </IconButton>
    </Tooltip>
  );
  const stands = state === "paused" || state === "cancelled" || state === "failed";
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
      {state === "done" && job.filename && (
        <Button variant="contained" href={`/api/jobs/${id}/file`} download>
          Save {bytesWords(job.size)}
        </Button>
      )}
      {!queued && isRunning(job) && <DrawHere job={job} />}
      {queued && isRunning(job) && small("Pause", actions.pause, <PauseOutlined />)}
      {queued && stands && small("Go on", actions.goOn, <PlayArrow />)}
      {queued && !isRunning(job) && small("Make it again", actions.again, <ReplayOutlined />)}
      {(isRunning(job) || state === "paused") && (
        <Button variant="outlined" onClick={() => actions.cancel(id)}>
          Cancel
        </Button>
      )}
      {queued &&
        !isRunning(job) &&
        state !== "paused" &&
        small("Remove, with its frames", actions.remove, <DeleteOutline />)}
    </Box>
  );
}
