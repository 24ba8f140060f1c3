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
/** Of the screen's own resolution, each way. */
const COARSE = [1, 1, 0.6, 0.4];

/** Pixels of the picture for each unit of the page. */
export function resolutionAt({ level, moving }: Detail, ofScreen: number): number {
  return Math.min(ofScreen, SHARPEST) * (moving ? COARSE[level] : 1);
}

/** Pictures drawn so far. */
export const drawn = { pictures: 0 };
