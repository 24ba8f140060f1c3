import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import type { JobState } from "../api/client";
import { drawFor, useJobs } from "./useJob";

const SILENT = "waiting for a window";

/** Where the window that drew was closed, another may go on. */
export function DrawHere({ job }: { job: JobState }) {
  const own = useJobs((s) => s.drawing.includes(job.id));
  const [late, setLate] = useState(false);
  const waits = job.what.startsWith(SILENT) && !own;
  useEffect(() => {
    const timer = window.setTimeout(() => setLate(waits), 1000);
    return () => window.clearTimeout(timer);
  }, [waits]);
  return waits && late ? <Button onClick={() => drawFor(job)}>Draw it here</Button> : null;
}
