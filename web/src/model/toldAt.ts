import { inLoop } from "./inLoop";

/**
 * What is told of frames 0 to the last of a loop, as it is at the nearest of them.
 *
 * told : one for each frame, or fewer over the same time, or a single one for all
 */
export function toldAt<T>(told: readonly [T, ...T[]], frame: number, frames: number): T {
  const share = inLoop(frame, frames) / frames;
  return told[Math.round(share * (told.length - 1))] ?? told[0];
}
