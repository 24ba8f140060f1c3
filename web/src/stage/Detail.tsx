import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { OrbitControls } from "three-stdlib";
import { useInterface } from "../state/store";
import { median } from "./median";
import { drawn, useDetail, type Detail as State } from "./useDetail";

const SLOW_MS = 60;
const QUICK_MS = 18;
const TICKS = 8;
const COARSE = 0.6;
/** How long the picture has to stand still before it is drawn in full again. */
const REST_MS = 250;
const SOFTWARE = /swiftshader|llvmpipe|software|basic render/i;

function drawsInSoftware(gl: WebGLRenderingContext | WebGL2RenderingContext): boolean {
  const info = gl.getExtension("WEBGL_debug_renderer_info");
  const name = gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER) as unknown;
  return SOFTWARE.test(String(name));
}

/** Whether the view is being turned, moved or zoomed by hand. */
function useTurning(): void {
  const controls = useThree((s) => s.controls) as unknown as OrbitControls | null;
  useEffect(() => {
    if (!controls) return;
    const start = () => useInterface.getState().set({ turning: true });
    const end = () => useInterface.getState().set({ turning: false });
    controls.addEventListener("start", start);
    controls.addEventListener("end", end);
    return () => {
      controls.removeEventListener("start", start);
      controls.removeEventListener("end", end);
    };
  }, [controls]);
}

/** Watches how long pictures take while something moves, and sets the detail that suits. */
export function Detail() {
  useTurning();
  const gl = useThree((s) => s.gl);
  const setDpr = useThree((s) => s.setDpr);
  const invalidate = useThree((s) => s.invalidate);
  const busy = useInterface((s) => s.playing || s.dragging || s.turning);
  const { level, moving } = useDetail();
  const least = useRef<0 | 1>(0);
  // After a level proved too slow it is tried again only after a longer and longer time.
  const patience = useRef(2);

  useEffect(() => {
    least.current = drawsInSoftware(gl.getContext()) ? 1 : 0;
    useDetail.setState({ level: least.current });
  }, [gl]);

  useEffect(() => {
    const rest = () => useDetail.setState({ moving: busy });
    const timer = window.setTimeout(rest, busy ? 0 : REST_MS);
    return () => window.clearTimeout(timer);
  }, [busy]);

  useEffect(() => {
    const full = Math.min(window.devicePixelRatio, 2);
    setDpr(moving && level > 1 ? full * COARSE : full);
    invalidate();
  }, [moving, level, setDpr, invalidate]);

  useEffect(() => {
    if (!moving) return;
    let spent: number[] = [];
    let last = performance.now();
    let quickFor = 0;
    let before = drawn.pictures;
    let request = 0;
    // The browser asks for the next picture when it has time for it, whether one is drawn or not.
    const tick = (now: number) => {
      spent.push(now - last);
      last = now;
      if (spent.length >= TICKS) {
        const typical = median(spent);
        // Ticks between which nothing was drawn say nothing of how long a picture takes.
        const drew = drawn.pictures - before > TICKS / 2;
        before = drawn.pictures;
        spent = [];
        quickFor = drew && typical < QUICK_MS ? quickFor + 1 : 0;
        const { level: at } = useDetail.getState();
        if (typical > SLOW_MS && at < 2) {
          patience.current *= 4;
          useDetail.setState({ level: (at + 1) as State["level"] });
        } else if (quickFor > patience.current && at > least.current) {
          quickFor = 0;
          useDetail.setState({ level: (at - 1) as State["level"] });
        }
      }
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [moving]);
  return null;
}
