import { create } from "zustand";
import type { Level } from "./pace";

/**
 * How much detail the machine has time for while something moves: 0 all of it; 1 no shadow, no
 * smooth rims, quick shading; 2 a coarser picture as well. What stands still is drawn in full.
 */
export interface Detail {
  level: Level;
  moving: boolean;
}

export const useDetail = create<Detail>()(() => ({ level: 0, moving: false }));

/** Pictures drawn so far. */
export const drawn = { pictures: 0 };
