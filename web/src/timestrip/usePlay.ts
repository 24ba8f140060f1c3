import { useEffect } from "react";
import { useInterface } from "../state/store";
import { advance, begin, seconds } from "./playhead";

/** Moves the playhead while playing: in real time frames are skipped, or every frame is shown. */
export function usePlay(frames: number, rate: number) {
  const playing = useInterface((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    const { set, frame: from, mode: how } = useInterface.getState();
    let last = performance.now();
    let head = begin(from, frames, how);
    if (head.at !== from) set({ frame: head.at });
    let request = 0;
    const tick = (now: number) => {
      const { pace, mode, ready, frame } = useInterface.getState();
      const spent = seconds(last, now);
      // Somebody else moved it: a click on the ring, a key.
      if (Math.abs(frame - Math.floor(head.at)) > 1) head = { ...head, at: frame };
      const next = (frame + head.way + frames) % frames;
      const nextIsReady = ready.has(next) || ready.size === 0;
      if (pace === "time") {
        last = now;
        head = advance(head, spent * rate, frames, mode);
      } else if (spent >= 1 / rate && nextIsReady) {
        last = now;
        head = advance({ ...head, at: frame }, 1, frames, mode);
      }
      const shown = Math.floor(head.at);
      if (head.ended) set({ playing: false, frame: shown });
      else {
        if (shown !== frame) set({ frame: shown });
        request = requestAnimationFrame(tick);
      }
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, frames, rate]);
}
