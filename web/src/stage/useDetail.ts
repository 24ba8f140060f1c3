import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import { useInterface } from "../state/store";
import { median } from "./median";

const SLOW_MS = 60;
const FRAMES = 6;
const COARSE = 0.6;

/**
 * How much detail the machine has time for while something moves: 0 all of it, 1 no shadow, 2 a
 * coarser picture as well. What stands still is always drawn in full.
 */
export function useDetail(): { shadow: boolean } {
  const playing = useInterface((s) => s.playing);
  const dragging = useInterface((s) => s.dragging);
  const setDpr = useThree((s) => s.setDpr);
  const invalidate = useThree((s) => s.invalidate);
  const [level, setLevel] = useState(0);
  const spent = useRef<number[]>([]);
  const last = useRef<number | null>(null);
  const moving = playing || dragging;

  useEffect(() => {
    // Between movements nothing is drawn, and the pause would count as a slow frame.
    last.current = null;
    spent.current = [];
    const full = Math.min(window.devicePixelRatio, 2);
    setDpr(moving && level > 1 ? full * COARSE : full);
    invalidate();
  }, [moving, level, setDpr, invalidate]);

  useFrame(() => {
    if (!moving) return;
    const now = performance.now();
    if (last.current !== null) spent.current.push(now - last.current);
    last.current = now;
    if (spent.current.length < FRAMES) return;
    const typical = median(spent.current);
    spent.current = [];
    const { set, counts } = useInterface.getState();
    set({ counts: { ...counts, rate: 1000 / typical } });
    if (typical > SLOW_MS && level < 2) setLevel(level + 1);
  });
  return { shadow: !moving || level < 1 };
}
