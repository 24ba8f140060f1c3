import type { PointerEvent } from "react";
import { useInterface } from "../common/store/store";
import { frameUnder } from "./frameUnder";

/**
 * Handlers for a part of the strip that is as wide as the loop: pressing and dragging there moves the
 * playhead. What stands on it and can be taken by the hand is left alone.
 */
export function useScrub(frames: number) {
  const set = useInterface((s) => s.set);
  const go = (event: PointerEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const frame = frameUnder(event.clientX, left, width, frames);
    set({ frame, playing: false });
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      const taken = (event.target as Element).closest("button, input, [role=slider]");
      if (event.button !== 0 || taken) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      go(event);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (event.currentTarget.hasPointerCapture(event.pointerId)) go(event);
    },
  };
}

/** Nothing in it is chosen as text while the pointer is dragged over it. */
export const SCRUBBED = { cursor: "col-resize", userSelect: "none", touchAction: "none" } as const;
