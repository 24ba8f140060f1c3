import type { Lane } from "../api/client";

export interface LaneShape {
  low: number;
  high: number;
  /** SVG paths; empty where there is nothing of the kind. */
  line: string;
  last: string;
  band: string;
  wave: string;
  y: (value: number) => number;
}

/** A lane as paths in a box; values beside its samples are within its range as well. */
export function laneShape(
  lane: Pick<Lane, "samples" | "last" | "peaks">,
  width: number,
  height: number,
  margin: number,
  beside: number[] = [],
): LaneShape {
  const all = [...lane.samples, ...lane.last, ...beside];
  const low = all.length ? Math.min(...all) : 0;
  const high = all.length ? Math.max(...all) : 1;
  const span = high - low || 1;
  const y = (v: number) => height - margin - ((v - low) / span) * (height - 2 * margin);
  const points = (samples: number[]) =>
    samples.map((v, k) => {
      const x = (k / Math.max(samples.length - 1, 1)) * width;
      return `${x.toFixed(1)} ${y(v).toFixed(1)}`;
    });
  const first = points(lane.samples);
  const last = points(lane.last);
  const middle = height / 2;
  const reach = Math.max(0.05, ...lane.peaks.map(([a, b]) => Math.max(-a, b)));
  const loud = (v: number) => (middle - (v / reach) * (middle - 1)).toFixed(1);
  const across = (k: number) => ((k / Math.max(lane.peaks.length - 1, 1)) * width).toFixed(1);
  const upper = lane.peaks.map(([, b], k) => `${across(k)} ${loud(b)}`);
  const lower = lane.peaks.map(([a], k) => `${across(k)} ${loud(a)}`).reverse();
  return {
    low,
    high,
    y,
    line: first.length ? `M${first.join("L")}` : "",
    last: last.length ? `M${last.join("L")}` : "",
    band: last.length ? `M${[...first, ...last.reverse()].join("L")}Z` : "",
    wave: upper.length ? `M${[...upper, ...lower].join("L")}Z` : "",
  };
}
