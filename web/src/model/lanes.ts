import type { Lane } from "../api/client";

/** What a value that moves is at a frame, read from the samples of its lane. */
export function laneValue(
  lane: Lane | undefined,
  frame: number,
  frames: number,
): number | undefined {
  if (!lane || lane.samples.length === 0) return undefined;
  const at = ((frame % frames) / frames) * (lane.samples.length - 1);
  const k = Math.floor(at);
  const next = lane.samples[Math.min(k + 1, lane.samples.length - 1)];
  return lane.samples[k] + (next - lane.samples[k]) * (at - k);
}
