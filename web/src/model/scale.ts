import type { ValueEntry } from "../api/client";

/** Place of a value on its ruler, 0 to 1, and back. */
export function toShare(value: number, entry: ValueEntry): number {
  const [low, high] = entry.soft;
  if (entry.scale === "log" && low > 0) {
    return Math.log(Math.max(value, 1e-9) / low) / Math.log(high / low);
  }
  return (value - low) / (high - low);
}

export function fromShare(share: number, entry: ValueEntry): number {
  const [low, high] = entry.soft;
  const raw =
    entry.scale === "log" && low > 0
      ? low * Math.pow(high / low, share)
      : low + (high - low) * share;
  return settle(raw, entry);
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

/** Places of the ticks: even ones, or 1-2-5 steps on a logarithmic ruler. */
export function ticks(entry: ValueEntry): number[] {
  const [low, high] = entry.soft;
  if (entry.scale === "log" && low > 0) {
    const marks: number[] = [];
    for (let power = Math.floor(Math.log10(low)); power <= Math.log10(high); power++) {
      for (const step of [1, 2, 5]) {
        const share = toShare(step * 10 ** power, entry);
        if (share >= 0 && share <= 1) marks.push(share);
      }
    }
    return marks;
  }
  const count = entry.kind === "whole" ? Math.min(12, high - low) : 10;
  return Array.from({ length: count + 1 }, (_, k) => k / count);
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
