export interface Restart {
  name: string;
  title: string;
  frames: number;
  /** They may be fewer, which nobody knows yet. */
  at_most: boolean;
  seconds: number | null;
}

/** Shorter than this, nobody notices that something begins again. */
const NOTICED_S = 0.15;

/** What is said while a value is in the hand, of the steps whose past is walked again when it is let go;
 * "" where that is nothing that anybody waits for. */
export function restartWords(restarts: Restart[], pieces: number): string {
  const known = restarts.every((r) => r.seconds !== null);
  const seconds = restarts.reduce((sum, r) => sum + (r.seconds ?? 0), 0);
  if (restarts.length === 0 || (known && seconds < NOTICED_S)) return "";
  const named = restarts.map((r) => (pieces > 1 ? `${r.title} (${r.name})` : r.title));
  const who = named.length > 2 ? `${named.length} systems` : named.join(" and ");
  const start = named.length === 1 ? "starts" : "start";
  const frames = restarts.reduce((sum, r) => sum + r.frames, 0);
  const atMost = restarts.some((r) => r.at_most);
  const long = known ? `, ${atMost ? "at most" : "about"} ${duration(seconds)}` : "";
  const many = `${atMost ? "up to " : ""}${frames.toLocaleString("en")} frames`;
  return `Let go, and ${who} ${start} again: ${many}${long}`;
}

function duration(seconds: number): string {
  if (seconds < 1) return `${seconds.toFixed(1)} s`;
  if (seconds < 90) return `${Math.round(seconds)} s`;
  return `${Math.round(seconds / 60)} min`;
}
