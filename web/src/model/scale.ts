import { scaleLinear, scaleLog } from "d3-scale";
import type { ValueEntry } from "../api/client";

/** Of a ruler whose ends are 0 and 1. */
function scaleOf({ soft, scale }: ValueEntry) {
  return scale === "log" && soft[0] > 0 ? scaleLog(soft, [0, 1]) : scaleLinear(soft, [0, 1]);
}

/** Place of a value on its ruler, 0 to 1, and back. */
export function toShare(value: number, entry: ValueEntry): number {
  const logarithmic = entry.scale === "log" && entry.soft[0] > 0;
  return scaleOf(entry)(logarithmic ? Math.max(value, LEAST) : value);
}

/** On a logarithmic ruler what is not above 0 stands where this does. */
const LEAST = 1e-9;

export function fromShare(share: number, entry: ValueEntry): number {
  return settle(scaleOf(entry).invert(share), entry);
}

/** Within the hard limits, whole where it must be, and without digits nobody asked for. */
export function settle(value: number, entry: ValueEntry): number {
  const [low, high] = entry.hard;
  const limited = Math.min(high ?? Infinity, Math.max(low ?? -Infinity, value));
  if (entry.kind === "whole") return Math.round(limited);
  const span = entry.scale === "log" ? Math.abs(limited) : entry.soft[1] - entry.soft[0];
  const digits = Math.min(6, Math.max(0, 3 - Math.floor(Math.log10(Math.max(span, 1e-6)))));
  return Number(limited.toFixed(digits));
}

/** Shares of the ticks, at round values: of each power of ten 1, 2 and 5 on a logarithmic ruler. */
export function ticks(entry: ValueEntry): number[] {
  const scale = scaleOf(entry);
  const [low, high] = entry.soft;
  if (entry.scale === "log" && low > 0) return scale.ticks().filter(isOneTwoOrFive).map(scale);
  return scale.ticks(entry.kind === "whole" ? Math.min(12, high - low) : 10).map(scale);
}

function isOneTwoOrFive(value: number): boolean {
  return ["1", "2", "5"].includes(value.toExponential(6)[0]);
}

const WAYS: Record<string, number> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};
/** Share of the scale that an arrow key goes. */
const NUDGE = 0.02;

/** The value after a key on its scale; null for keys that mean nothing there. */
export function nudged(
  key: string,
  value: number,
  entry: ValueEntry,
  fine: boolean,
): number | null {
  if (key === "Home") return settle(entry.soft[0], entry);
  if (key === "End") return settle(entry.soft[1], entry);
  const way = WAYS[key];
  if (!way) return null;
  if (entry.kind === "whole") return settle(value + way, entry);
  return fromShare(toShare(value, entry) + way * NUDGE * (fine ? 0.1 : 1), entry);
}
