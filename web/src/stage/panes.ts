import type { View } from "../common/store/store";

/** A part of the stage that shows one view; shares of the stage's width and height, from its top. */
export interface Pane {
  view: View;
  left: number;
  top: number;
  width: number;
  height: number;
}

const half = { width: 0.5, height: 0.5 };

// As a drawing lays them out (third-angle projection): what is above stands above, what is to the
// right stands to the right, so that each place is in line with itself.
const FOUR: Pane[] = [
  { view: "top", left: 0, top: 0, ...half },
  { view: "perspective", left: 0.5, top: 0, ...half },
  { view: "front", left: 0, top: 0.5, ...half },
  { view: "side", left: 0.5, top: 0.5, ...half },
];

export function panesOf(view: View, four: boolean): Pane[] {
  return four ? FOUR : [{ view, left: 0, top: 0, width: 1, height: 1 }];
}

/** The pane at a place, given as shares of the stage. */
export function paneAt(panes: Pane[], x: number, y: number): Pane {
  const inside = (at: number, from: number, size: number) => at >= from && at < from + size;
  return (
    panes.find((p) => inside(x, p.left, p.width) && inside(y, p.top, p.height)) ??
    panes[panes.length - 1]
  );
}

/** A place on the stage as -1 to 1 across a pane, upwards. */
export function withinPane(pane: Pane, x: number, y: number): [number, number] {
  return [((x - pane.left) / pane.width) * 2 - 1, 1 - ((y - pane.top) / pane.height) * 2];
}

/** The greatest 1, 2 or 5 times a power of ten that is at most so much. */
export function roundBelow(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  const step = [5, 2, 1].find((s) => s * power <= most * (1 + 1e-9)) ?? 1;
  return step * power;
}
