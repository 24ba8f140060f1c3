import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { JobState } from "../api/client";
import { bytesWords, keptWords, leftWords } from "../model/jobWords";
import { DrawHere } from "../common/DrawHere";

type Detail = JobState["details"][number];

/** What a piece has become in the file, in words. */
function madeOf(detail: Detail): string {
  const [copies, shapes] = [Number(detail.copies), Number(detail.shapes)];
  if (detail.meshes) return `${String(detail.meshes)} meshes, switched from frame to frame`;
  const words = [
    copies ? `${copies.toLocaleString("en")} copies` : "",
    shapes ? `${shapes} shapes by ${String(detail.method)}` : copies ? "" : "stands still",
  ];
  return words.filter(Boolean).join(", ");
}

/** What was found in a file that was read back, in words. */
export function foundIn(detail: Detail): string {
  if (detail.largest !== undefined) {
    const share = (Number(detail.differing) * 100).toFixed(2);
    return Number(detail.largest) === 0
      ? "Both pictures are the same in every pixel."
      : `They differ by ${String(detail.largest)} of 255 at most, by ${Number(detail.mean).toFixed(3)} in the mean; in ${share} % of the picture it is more than one step.`;
  }
  const words = [`${String(detail.width)} × ${String(detail.height)}`];
  if (detail.pictures !== undefined) words.push(`${String(detail.pictures)} pictures`);
  if (detail.rate !== undefined)
    words.push(`${String(detail.rate)} a second`, `${String(detail.seconds)} s`);
  if (detail.codec) words.push(String(detail.codec));
  return words.join(", ");
}

/** How far a job is, or what has become of it. pictures : whether it draws some */
export function JobProgress({ job, pictures }: { job: JobState | null; pictures: boolean }) {
  if (!job) return null;
  if (job.state === "failed") {
    return (
      <Typography role="alert" color="error" sx={{ mt: 1 }}>
        {job.message} {job.hint}
      </Typography>
    );
  }
  if (job.state === "cancelled") {
    return (
      <Typography color="textSecondary" sx={{ mt: 1 }}>
        {job.queued
          ? "Cancelled. What was made of it is kept in the queue."
          : "Cancelled. Nothing was written."}
      </Typography>
    );
  }
  if (job.state === "paused") {
    return (
      <Typography role="alert" sx={{ mt: 1, color: "roles.amber" }}>
        {job.message || "It stands still."} {job.hint}
      </Typography>
    );
  }
  if (job.state === "done") return <Done job={job} />;
  const left = job.seconds_left == null ? "" : `, ${leftWords(job.seconds_left)} left`;
  return (
    <Box role="status" sx={{ mt: 1, display: "flex", gap: 2, alignItems: "center" }}>
      {pictures && job.share > 0 && <Latest job={job} />}
      <Box sx={{ flex: 1 }}>
        <LinearProgress variant="determinate" value={job.share * 100} aria-label="Progress" />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
          {Math.round(job.share * 100)} % · {job.what}
          {left}
        </Typography>
        {pictures && !job.queued && <DrawHere job={job} />}
        {job.queued && (
          <Button component={Link} to="/queue" size="small" sx={{ mt: 0.5, ml: -1 }}>
            See it in the queue
          </Button>
        )}
      </Box>
    </Box>
  );
}

function Done({ job }: { job: JobState }) {
  return (
    <Box role="status" sx={{ mt: 1, p: 1.5, bgcolor: "roles.quiet", borderRadius: 2 }}>
      <Typography sx={{ fontWeight: 600 }}>
        {job.filename
          ? `${job.filename}, ${bytesWords(job.size)}, read back and ready`
          : keptWords(job)}
      </Typography>
      {(job.filename ? job.details : []).map((d, k) => (
        <Typography key={k} variant="body2" color="textSecondary">
          {d.width !== undefined
            ? foundIn(d)
            : `${String(d.name)}: ${madeOf(d)}, error ${(Number(d.error_m) * 1000).toFixed(3)} mm (${(
                Number(d.error_relative) * 100
              ).toFixed(3)} % of its size)`}
        </Typography>
      ))}
      {job.details[0]?.too_bright !== undefined && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          ⚑ {(Number(job.details[0].too_bright) * 100).toFixed(0)} % of frame{" "}
          {Math.floor(Number(job.details[0].too_bright_at))} is too bright to keep its colour. Lower
          the exposure, or what shines there.
        </Typography>
      )}
      {job.details[0]?.largest !== undefined && (
        <Box
          component="img"
          src={`/api/jobs/${job.id}/file`}
          alt="Where the two pictures differ"
          sx={{ mt: 1, maxWidth: "100%", maxHeight: 180, borderRadius: 1, display: "block" }}
        />
      )}
    </Box>
  );
}

/** The last picture that was drawn. */
function Latest({ job }: { job: JobState }) {
  const [there, setThere] = useState(false);
  // Asked for anew with each that has come.
  const last = job.queued?.frames.at(-1);
  const address = job.queued
    ? `/api/jobs/${job.id}/frames/${last ?? 0}?small=320`
    : `/api/pictures/${job.id}/latest?at=${job.share}`;
  return (
    <Box
      sx={{
        width: 160,
        height: 90,
        flex: "none",
        borderRadius: 1,
        overflow: "hidden",
        bgcolor: "#1e1a29",
        display: "grid",
        placeItems: "center",
      }}
    >
      <Box
        component="img"
        src={address}
        alt="The last picture"
        onLoad={() => setThere(true)}
        onError={() => setThere(false)}
        sx={{ maxWidth: "100%", maxHeight: "100%", visibility: there ? "visible" : "hidden" }}
      />
    </Box>
  );
}
