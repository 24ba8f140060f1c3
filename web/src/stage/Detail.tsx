import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { OrbitControls } from "three-stdlib";
import { useOffscreen } from "../common/offscreen";
import { useInterface } from "../common/store/store";
import { Pace } from "./pace";
import { drawsInSoftware } from "./software";
import { drawing } from "./decimation";
import { Turning } from "./turning";
import { drawn, tookOffscreen, useDetail } from "./useDetail";

/** How long the picture has to stand still before it is drawn in full again. */
const REST_MS = 250;

/** Whether the view is being turned, moved or zoomed by hand. */
function useTurning(): void {
  const controls = useThree((s) => s.controls) as unknown as OrbitControls | null;
  useEffect(() => {
    if (!controls) return;
    const turning = new Turning();
    const start = () => turning.start();
    const end = () => turning.end();
    controls.addEventListener("start", start);
    controls.addEventListener("end", end);
    return () => {
      controls.removeEventListener("start", start);
      controls.removeEventListener("end", end);
      turning.stop();
    };
  }, [controls]);
}

/** Watches how long pictures take while something moves, and sets the detail that suits. */
export function Detail() {
  useTurning();
  const gl = useThree((s) => s.gl);
  const invalidate = useThree((s) => s.invalidate);
  const busy = useInterface((s) => s.playing || s.dragging || s.turning);
  const { level, moving } = useDetail();
  const pace = useMemo(() => {
    const software = drawsInSoftware(gl.getContext());
    drawing.inSoftware = software;
    return new Pace(0, software ? 1 : 0);
  }, [gl]);

  useEffect(() => {
    useDetail.setState({ level: pace.level });
  }, [pace]);

  useEffect(() => {
    const rest = () => useDetail.setState({ moving: busy });
    const timer = window.setTimeout(rest, busy ? 0 : REST_MS);
    return () => window.clearTimeout(timer);
  }, [busy]);

  useEffect(() => invalidate(), [moving, level, invalidate]);

  useEffect(() => {
    if (!moving) return;
    const take = (ms: number) => {
      const found = pace.tick(ms, drawn.pictures);
      if (found !== useDetail.getState().level) useDetail.setState({ level: found });
    };
    pace.begin(drawn.pictures);
    // What is drawn off screen does not hold the screen up, but tells what it took.
    if (drawing.inSoftware) {
      tookOffscreen.add(take);
      return () => void tookOffscreen.delete(take);
    }
    let last = performance.now();
    let request = 0;
    // The browser asks for the next picture when it has time for it, whether one is drawn or not.
    const tick = (now: number) => {
      if (useOffscreen.getState().frame !== null) pace.begin(drawn.pictures);
      take(now - last);
      last = now;
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [moving, pace]);
  return null;
}
