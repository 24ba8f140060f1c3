import { create } from "zustand";
import { keptPictures } from "./keptPictures";

/**
 * The moment at which the pieces stand while pictures of a loop are drawn off screen: in a buffer that is
 * not on the screen, where a slow picture holds up neither the playhead nor those that are there
 * already. Null while what is drawn is what is seen.
 */
export const useOffscreen = create<{
  frame: number | null;
  /** Pictures cannot be had, for want of memory: nobody is to wait for them. */
  fails: boolean;
}>()(() => ({ frame: null, fails: false }));

/** Whether a moment's picture is on its way, for whoever shows every one. */
export function pictureIsComing(frame: number): boolean {
  const { frame: drawn, fails } = useOffscreen.getState();
  return drawn !== null && !fails && !keptPictures.has(frame) && !keptPictures.isFull;
}
