import ArrowBack from "@mui/icons-material/ArrowBack";
import MovieFilterOutlined from "@mui/icons-material/MovieFilterOutlined";
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { Mark } from "../common/Mark";
import { SortableRows } from "../common/SortableRows";
import { isRunning } from "../model/jobWords";
import { FramesDialog } from "./FramesDialog";
import { JobRow } from "./JobRow";
import { WhereMade } from "./WhereMade";
import { useJobActions, useQueue, type Jobs } from "./useQueue";

/** All that is being made, that waits, and that is done. */
export function QueuePage() {
  const queue = useQueue();
  const actions = useJobActions();
  const [opened, setOpened] = useState<string | null>(null);
  const jobs = queue.data?.jobs ?? [];
  const shown = jobs.find((job) => job.id === opened);
  const drop = (id: string, over: string) => {
    const ids = jobs.map((job) => job.id);
    const [from, to] = [ids.indexOf(id), ids.indexOf(over)];
    // Downwards it comes after the one that it is let go over.
    actions.move(id, from < to ? (ids[to + 1] ?? null) : over);
  };
  return (
    <Box component="main" sx={{ maxWidth: 1240, mx: "auto", px: 4, py: 3, minHeight: "100vh" }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 4 }}>
        <Mark size={34} />
        <Typography variant="h2" component="p" sx={{ flex: 1 }}>
          Zygomorph
        </Typography>
        {queue.data && <WhereMade key={queue.data.scheduler} told={queue.data} actions={actions} />}
        <Button component={Link} to="/" startIcon={<ArrowBack />}>
          Studies
        </Button>
      </Box>
      <Typography variant="h1">Queue</Typography>
      <Typography color="textSecondary" sx={{ mt: 0.5, mb: 3 }}>
        {said(jobs)}
      </Typography>
      {queue.isError && (
        <Typography role="alert" color="error">
          The queue could not be loaded. Is the server still running? {queue.error.message}
        </Typography>
      )}
      {queue.data && <Refused told={queue.data} />}
      <SortableRows ids={jobs.map((job) => job.id)} drop={drop}>
        {jobs.map((job) => (
          <JobRow key={job.id} job={job} actions={actions} open={() => setOpened(job.id)} />
        ))}
      </SortableRows>
      {queue.data && jobs.length === 0 && <Empty />}
      {shown && <FramesDialog job={shown} actions={actions} close={() => setOpened(null)} />}
    </Box>
  );
}

function said(jobs: Jobs["jobs"]): string {
  const running = jobs.filter(isRunning).length;
  if (!running) return jobs.length ? "Nothing is being made just now." : "";
  return running === 1
    ? "One delivery is being made. It goes on if this window is closed, or the program started again."
    : `${running} deliveries are being made, in this order. They go on if this window is closed, or the program started again.`;
}

/** Workers that have another version of the program, which make nothing. */
function Refused({ told }: { told: Jobs }) {
  if (!told.refused.length) return null;
  return (
    <Box role="alert" sx={{ mb: 2, p: 1.5, borderRadius: 2, bgcolor: "roles.quiet" }}>
      {told.refused.map(({ address, program }) => (
        <Typography key={address} variant="body2">
          The worker at {address} is version {program} and makes nothing here; these frames are made
          by {told.program}.
        </Typography>
      ))}
    </Box>
  );
}

function Empty() {
  return (
    <Box sx={{ textAlign: "center", py: 10, color: "text.secondary" }}>
      <MovieFilterOutlined sx={{ fontSize: 44, mb: 1, opacity: 0.6 }} />
      <Typography variant="h2" component="p">
        Nothing has been delivered yet
      </Typography>
      <Typography sx={{ mt: 1 }}>
        Open a study and press Deliver; what is made appears here, frame by frame.
      </Typography>
    </Box>
  );
}
