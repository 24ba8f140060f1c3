import { ticks } from "d3-array";
import type { KeyPoint } from "../api/document";

/** What a curve editor shows: frames from left to right, values from bottom to top. */
export interface EditorView {
  from: number;
  to: number;
  low: number;
  high: number;
}

/** All of the loop, and all of the values with some room. */
export function fittedView(values: number[], keys: KeyPoint[], frames: number): EditorView {
  const all = [...values, ...keys.map((k) => k.value)];
  const low = all.length ? Math.min(...all) : 0;
  const high = all.length ? Math.max(...all) : 1;
  const room = (high - low || Math.abs(high) || 1) * 0.15;
  const first = Math.min(0, ...keys.map((k) => k.frame));
  const last = Math.max(frames, ...keys.map((k) => k.frame));
  const side = (last - first) * 0.02;
  return { from: first - side, to: last + side, low: low - room, high: high + room };
}

/** Nearer or farther about a place, which stays where it is. */
export function zoomedView(
  view: EditorView,
  at: { frame: number; value: number },
  across: number,
  up: number,
): EditorView {
  return {
    from: at.frame + (view.from - at.frame) * across,
    to: at.frame + (view.to - at.frame) * across,
    low: at.value + (view.low - at.value) * up,
    high: at.value + (view.high - at.value) * up,
  };
}

export function movedView(view: EditorView, frames: number, value: number): EditorView {
  return {
    from: view.from + frames,
    to: view.to + frames,
    low: view.low + value,
    high: view.high + value,
  };
}

/** How far beyond the loop a view may go, as a share of it, and how few frames it may show. */
const MARGIN = 0.15;
const LEAST_FRAMES = 2;

/** The nearest view that shows a part of the loop, its keys and a margin, and nothing further off. */
export function limitedView(view: EditorView, keys: KeyPoint[], frames: number): EditorView {
  const first = Math.min(0, ...keys.map((k) => k.frame)) - frames * MARGIN;
  const last = Math.max(frames, ...keys.map((k) => k.frame)) + frames * MARGIN;
  const wide = Math.min(Math.max(view.to - view.from, LEAST_FRAMES), last - first);
  const from = Math.min(Math.max(view.from, first), last - wide);
  return { ...view, from, to: from + wide };
}

/** Round values, about four of them, between the lowest and the highest that are shown. */
export function roundLevels({ low, high }: EditorView): number[] {
  return ticks(low, high, 4);
}
