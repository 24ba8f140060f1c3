import { create } from "zustand";
import type { Level } from "./pace";

/**
 * How much detail the machine has time for while something moves: 0 all of it; 1 no shadow, no
 * smooth rims, quick shading; 2 and 3 a coarser picture as well. What stands still is drawn in
 * full.
 */
export interface Detail {
  level: Level;
  moving: boolean;
}

export const useDetail = create<Detail>()(() => ({ level: 0, moving: false }));

const SHARPEST = 2;
/**
 * Of the screen's own resolution, each way. A hand waits for its picture; those of a loop that plays
 * are kept and seen again and again, so that they are coarser only where it would stand still else.
 */
const COARSE_BY_HAND = [1, 1, 0.6, 0.4];
const COARSE_PLAYING = [1, 1, 1, 0.6];

/** Called with the milliseconds that a picture took which was drawn off screen while a hand moved something. */
export const tookOffscreen = new Set<(ms: number) => void>();

/** Pixels of the picture for each unit of the page. */
export function resolutionAt(
  { level, moving }: Detail,
  ofScreen: number,
  playing: boolean,
): number {
  const coarse = playing ? COARSE_PLAYING : COARSE_BY_HAND;
  return Math.min(ofScreen, SHARPEST) * (moving ? coarse[level] : 1);
}

/** Pictures drawn so far. */
export const drawn = { pictures: 0 };
