/** Less than this of a picture is not seen any more: half a step of 255. */
const UNSEEN = 0.5 / 255;
/** Times of pictures are told with six digits. */
const ROUNDING = 1e-5;

/** For how many frames something is left of a picture of which a share is left after each; no longer
 * than a loop. */
export function trailLength(share: number, frames: number): number {
  if (share <= 0) return 0;
  return Math.min(frames, Math.ceil(Math.log(UNSEEN) / Math.log(Math.min(share, 0.999))));
}

/** The moment of the loop at which a picture so many frames earlier is taken. */
export function inLoopAt(time: number, frames: number): number {
  return ((time % frames) + frames) % frames;
}

/**
 * The times of pictures that must come before one, in their order: those since the last that was
 * taken, or, where that is too long ago or later, all of which something is left. What plays one way
 * has nothing before its first frame.
 *
 * The final pictures do the same (zygomorph/jobs/queue/trails.py).
 *
 * @param spacing frames from one picture of the sequence to the next; trails are made of every frame
 *   where that is more than one
 */
export function timesBefore(
  time: number,
  last: number | null,
  share: number,
  { frames, oneWay }: { frames: number; oneWay: boolean },
  spacing = 1,
): { times: number[]; anew: boolean } {
  const length = trailLength(share, frames);
  const goesOn = last !== null && time - last > 0 && time - last <= length;
  const apart = Math.min(spacing, 1);
  const count = goesOn
    ? Math.ceil((time - last) / apart - ROUNDING) - 1
    : Math.ceil(length / apart - ROUNDING);
  const times = Array.from({ length: Math.max(0, count) }, (_, k) => time - (count - k) * apart);
  return { times: oneWay ? times.filter((t) => t > -ROUNDING) : times, anew: !goesOn };
}
