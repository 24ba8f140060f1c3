import { useEffect } from "react";
import { pictureIsComing } from "../common/offscreen";
import { useInterface } from "../common/store/store";
import { after, playRange } from "../model/playRange";
import { advance, begin, seconds } from "./playhead";

/** Moves the playhead while playing: in real time frames are skipped, or every frame is shown. */
export function usePlay(frames: number, rate: number) {
  const playing = useInterface((s) => s.playing);
  const range = useInterface((s) => s.range);
  useEffect(() => {
    if (!playing) return;
    const { set, frame: from, mode: how } = useInterface.getState();
    const within = playRange(range, frames);
    const { first, count } = within;
    const inside = from >= first && from < first + count;
    let last = performance.now();
    // Counted from the beginning of what plays.
    let head = begin(inside ? from - first : 0, count, how);
    if (first + head.at !== from) set({ frame: first + head.at });
    let request = 0;
    const tick = (now: number) => {
      const { pace, mode, ready, frame } = useInterface.getState();
      const spent = seconds(last, now);
      const place = Math.min(Math.max(0, frame - first), count - 1);
      // Somebody else moved it: a click on the ring, a key.
      if (Math.abs(place - Math.floor(head.at)) > 1) head = { ...head, at: place };
      const next = after(frame, head.way, within);
      const nextIsReady = ready.size === 0 || (ready.has(next) && !pictureIsComing(next));
      if (pace === "time") {
        last = now;
        head = advance(head, spent * rate, count, mode);
      } else if (spent >= 1 / rate && nextIsReady) {
        last = now;
        head = advance({ ...head, at: place }, 1, count, mode);
      }
      const shown = first + Math.floor(head.at);
      if (head.ended) set({ playing: false, frame: shown });
      else {
        if (shown !== frame) set({ frame: shown });
        request = requestAnimationFrame(tick);
      }
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, range, frames, rate]);
}
