import { after } from "../model/playRange";

interface Span {
  first: number;
  count: number;
}

/** Moments that are reached so soon come before those that were just passed. */
const SOON = 24;
/** How far behind the playhead a picture may be that stands in for one that is missing. */
const MOST_BEHIND = 12;

/**
 * The moment to be drawn next: the first that is reached from the playhead and has no picture, but
 * whose numbers are there; null where there is none. Where none is reached soon, because computing
 * takes longer, the one that was passed last, which can still be shown.
 *
 * lead : frames that the playhead moves on while it is drawn
 * most : how many moments are looked at; few where there is no room to keep what is far ahead
 * way : 1 where it moves forwards, -1 backwards
 */
export function nextMoment(
  frame: number,
  lead: number,
  most: number,
  way: 1 | -1,
  within: Span,
  has: (frame: number) => boolean,
  isReady: (frame: number) => boolean,
): number | null {
  const first = (from: number, to: number, by: number): number | null => {
    for (let ahead = from; ahead !== to; ahead += by) {
      const candidate = after(frame, way * ahead, within);
      if (!has(candidate) && isReady(candidate)) return candidate;
    }
    return null;
  };
  const end = lead + Math.min(most, within.count);
  const soon = Math.min(end, lead + SOON);
  const behind = Number.isFinite(most) ? lead - 1 : Math.max(-MOST_BEHIND, lead - within.count);
  return first(lead, soon, 1) ?? first(lead - 1, behind, -1) ?? first(soon, end, 1);
}

/**
 * The moment whose picture is shown at the playhead: its own, or the one that was passed last; null
 * where what is shown already is as near, or none is near.
 *
 * round : whether the last moment is followed by the first
 */
export function momentToShow(
  frame: number,
  shown: number | null,
  way: 1 | -1,
  within: Span,
  round: boolean,
  has: (frame: number) => boolean,
): number | null {
  const passed = way === 1 ? frame - within.first : within.first + within.count - 1 - frame;
  const most = Math.min(MOST_BEHIND, within.count - 1, round ? Infinity : passed);
  for (let behind = 0; behind <= most; behind++) {
    const candidate = after(frame, -way * behind, within);
    if (candidate === shown) return null;
    if (has(candidate)) return candidate;
  }
  return null;
}
