import type { JobState, Schemas } from "../api/client";

/** What is said of jobs; no React. */

export function bytesWords(n: number): string {
  return n > 1e6 ? `${(n / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1e3))} kB`;
}

export function leftWords(seconds: number): string {
  if (seconds < 90) return `${Math.ceil(seconds)} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} min` : `${(minutes / 60).toFixed(1)} h`;
}

export function isRunning(job: JobState | null): boolean {
  return job?.state === "running" || job?.state === "waiting";
}

/** How a job stands, in a few words. */
export function stateWords(job: JobState): string {
  switch (job.state) {
    case "done":
      return job.filename ? `${job.filename}, ${bytesWords(job.size)}` : keptWords(job);
    case "failed":
      return "It could not be made.";
    case "cancelled":
      return "Called off.";
    case "paused":
      return job.message ? "It stands still." : "Paused.";
    default: {
      const left = job.seconds_left == null ? "" : `, ${leftWords(job.seconds_left)} left`;
      return `${job.what || "waiting for its turn"}${left}`;
    }
  }
}

/** Of a simulation cache, which nobody takes away. */
export function keptWords(job: JobState): string {
  const { frames, bytes } = job.details[0] ?? {};
  return `${Number(frames)} frames are kept here, ${bytesWords(Number(bytes))}`;
}

/** Numbers of frames spread evenly over a job, for so many places of a strip. */
export function spread(total: number, places: number): number[] {
  const count = Math.min(total, places);
  return Array.from({ length: count }, (_, k) => Math.floor(((k + 0.5) * total) / count));
}

/** Of a frame that is to be shown, the nearest one that is there; null where none is near. */
export function nearest(frames: number[], wanted: number, reach: number): number | null {
  let found: number | null = null;
  for (const frame of frames) {
    const away = Math.abs(frame - wanted);
    if (away <= reach && (found === null || away < Math.abs(found - wanted))) found = frame;
  }
  return found;
}

/** Heights of bars, from 0 to 1, of what frames took; null of those that are not there. */
export function bars(costs: (number | null)[], places: number): (number | null)[] {
  const count = Math.min(costs.length, places);
  const groups = Array.from({ length: count }, (_, k) =>
    costs
      .slice(Math.floor((k * costs.length) / count), Math.floor(((k + 1) * costs.length) / count))
      .filter((cost): cost is number => cost !== null),
  );
  const means = groups.map((own) =>
    own.length ? own.reduce((sum, cost) => sum + cost, 0) / own.length : null,
  );
  const most = Math.max(...means.map((mean) => mean ?? 0), 1e-6);
  return means.map((mean) => (mean === null ? null : mean / most));
}

/** What frames took in the mean and at most, in words; nothing where none is there. */
export function costWords(costs: (number | null)[]): string {
  const known = costs.filter((cost): cost is number => cost !== null);
  if (!known.length) return "";
  const mean = known.reduce((sum, cost) => sum + cost, 0) / known.length;
  const most = Math.max(...known);
  const figure = (n: number) => (n < 10 ? n.toFixed(1) : String(Math.round(n)));
  return known.length === 1
    ? `${figure(mean)} s`
    : `${figure(mean)} s a frame, at most ${figure(most)} s`;
}

/** Of a job's pictures: when all are there, trails are drawn in them. */
export function editionOf(job: JobState): string {
  return job.state === "done" ? "whole" : "";
}

/** Who makes jobs. */
export function schedulerWords(told: Pick<Schemas["JobList"], "scheduler" | "workers">): string {
  const { scheduler, workers } = told;
  if (scheduler === null) return "Made by this machine";
  if (workers === 0) return `Made by ${scheduler}: nobody is there yet`;
  return `Made by ${scheduler}: ${workers} ${workers === 1 ? "worker" : "workers"}`;
}
