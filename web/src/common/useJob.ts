import { useEffect } from "react";
import { create } from "zustand";
import { client, type JobState } from "../api/client";
import { listen } from "../api/events";
import { isRunning } from "../model/jobWords";

interface OwnJobs {
  /** The one that the sheet shows, and of which study it is. */
  shown: JobState | null;
  study: string;
  /** Those that this window draws for. */
  drawing: string[];
}

/** Jobs that this window has begun. */
export const useJobs = create<OwnJobs>()(() => ({ shown: null, study: "", drawing: [] }));

export function show(job: JobState | null, study: string): void {
  useJobs.setState({ shown: job, study });
}

/** Draw for a job here, until it is over. */
export function drawFor(job: JobState): void {
  useJobs.setState((s) => ({ drawing: [...s.drawing, job.id] }));
}

function heard(job: JobState) {
  useJobs.setState(({ shown, drawing }) => ({
    shown: shown?.id === job.id ? job : shown,
    drawing: isRunning(job) ? drawing : drawing.filter((id) => id !== job.id),
  }));
}

const ASKED_MS = 700;

/** Follows the jobs of this window; the server tells, and is asked where it was not heard. */
export function useFollowedJobs(): void {
  const running = useJobs((s) =>
    [...new Set([...s.drawing, ...(isRunning(s.shown) ? [s.shown!.id] : [])])].join(),
  );
  useEffect(
    () =>
      listen((event) => {
        if (event.kind === "job") heard(event.data as unknown as JobState);
      }),
    [],
  );
  useEffect(() => {
    if (!running) return;
    const timer = window.setInterval(() => {
      for (const id of running.split(","))
        void client
          .GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } })
          .then((answer) => answer.data && heard(answer.data));
    }, ASKED_MS);
    return () => window.clearInterval(timer);
  }, [running]);
}
