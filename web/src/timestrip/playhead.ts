import type { PlayMode } from "../common/store/store";

/** at : in frames, with its fraction; way : 1 forwards, -1 backwards */
export interface Playhead {
  at: number;
  way: 1 | -1;
  ended: boolean;
}

/** Where playing begins: a range that was played once to its end begins anew. */
export function begin(frame: number, frames: number, mode: PlayMode): Playhead {
  return { at: mode === "once" && frame >= frames - 1 ? 0 : frame, way: 1, ended: false };
}

/**
 * Seconds between two moments in ms, never below 0: the browser dates a picture to the beginning of
 * its turn, which lies before the moment at which playing was asked for within that turn.
 */
export function seconds(from: number, to: number): number {
  return Math.max(0, (to - from) / 1000);
}

/** The playhead after some frames; it turns at the ends, stops there, or goes round. */
export function advance(
  { at, way }: Playhead,
  moved: number,
  frames: number,
  mode: PlayMode,
): Playhead {
  const last = frames - 1;
  if (mode === "both") {
    const next = at + moved * way;
    if (next >= last) return { at: last, way: -1, ended: false };
    if (next <= 0) return { at: 0, way: 1, ended: false };
    return { at: next, way, ended: false };
  }
  const next = at + moved;
  if (mode === "once" && next >= frames) return { at: last, way: 1, ended: true };
  return { at: next % frames, way: 1, ended: false };
}
