import { inLoop } from "../model/inLoop";

/**
 * Where something stands at a frame, column by column.
 *
 * matrices : one matrix for each frame 0 to F, a single one for what stands still, or, of a very long
 *   loop, some that are evenly spread over it, between which it is interpolated
 */
export function matrixAt(
  matrices: number[][],
  frame: number,
  frames: number,
): number[] | undefined {
  const last = matrices.length - 1;
  if (last < 1) return matrices[0];
  const within = inLoop(frame, frames);
  if (last === frames) return matrices[Math.round(within)];
  const at = (within / frames) * last;
  const before = Math.min(Math.floor(at), last - 1);
  const share = at - before;
  return matrices[before].map((v, k) => v + share * (matrices[before + 1][k] - v));
}
