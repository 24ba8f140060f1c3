import type { ValueEntry } from "../api/client";
import { withUnit } from "./parse";

/** What a typed number becomes, and in words why, where that is another. */
export function settled(typed: number, entry: ValueEntry): { value: number; note: string } {
  const [low, high] = entry.hard;
  // A drag has the scale's own steps; what is typed is meant as it stands.
  const limited = Math.min(high ?? Infinity, Math.max(low ?? -Infinity, typed));
  const value = entry.kind === "whole" ? Math.round(limited) : Number(limited.toPrecision(9));
  const name = entry.label;
  const to = withUnit(value, entry.unit);
  if (low !== null && low !== undefined && typed < low)
    return { value, note: `${name} is at least ${withUnit(low, entry.unit)}: set to ${to}.` };
  if (high !== null && high !== undefined && typed > high)
    return { value, note: `${name} is at most ${withUnit(high, entry.unit)}: set to ${to}.` };
  if (entry.kind === "whole" && value !== typed)
    return { value, note: `${name} is a whole number: ${typed} is set to ${to}.` };
  return { value, note: "" };
}
