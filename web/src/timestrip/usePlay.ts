import { useEffect, useRef } from "react";
import { useInterface } from "../state/store";

/** Moves the playhead while playing: in real time frames are skipped, or every frame is shown. */
export function usePlay(frames: number, rate: number) {
  const playing = useInterface((s) => s.playing);
  const way = useRef(1);
  useEffect(() => {
    if (!playing) return;
    const { set } = useInterface.getState();
    let last = performance.now();
    let at = useInterface.getState().frame;
    let request = 0;
    const tick = (now: number) => {
      const { pace, mode, ready, frame } = useInterface.getState();
      const spent = (now - last) / 1000;
      if (Math.abs(frame - Math.floor(at)) > 1) at = frame;
      if (pace === "time") {
        last = now;
        at += spent * rate * way.current;
      } else if (spent >= 1 / rate && (ready.has((frame + 1) % frames) || ready.size === 0)) {
        last = now;
        at = frame + way.current;
      }
      if (mode === "both") {
        if (at >= frames - 1) [at, way.current] = [frames - 1, -1];
        if (at <= 0) [at, way.current] = [0, 1];
      } else {
        way.current = 1;
        if (at >= frames && mode === "once") {
          set({ playing: false, frame: frames - 1 });
          return;
        }
        at %= frames;
      }
      const shown = Math.floor(at);
      if (shown !== frame) set({ frame: shown });
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, frames, rate]);
}
