import { isPair, isSignal, type DocValue } from "../api/document";

/** The dragged value, in which what a signal moves is left to its signal; null where that is all. */
export function keepSignals(before: DocValue | undefined, dragged: DocValue): DocValue | null {
  if (Array.isArray(before) && Array.isArray(dragged)) {
    return dragged.map((part, k) =>
      isSignal(before[k]) || isPair(before[k]) ? before[k] : part,
    ) as DocValue;
  }
  return typeof before === "object" && before !== null ? null : dragged;
}
