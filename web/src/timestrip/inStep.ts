/** Seconds by which a sound may be ahead of the picture or behind it before that is noticed. */
const NOTICED = 0.12;

/**
 * Where a sound that goes round with the loop is to be moved to; null where it may stay.
 *
 * at : where it is; wanted : where the playhead is; length : of the loop; all in seconds
 */
export function movedTo(at: number, wanted: number, length: number): number | null {
  const apart = Math.abs(at - wanted) % length;
  return Math.min(apart, length - apart) > NOTICED ? wanted : null;
}
