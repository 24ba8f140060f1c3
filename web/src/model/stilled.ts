import type { SignalValue } from "../api/document";

const MOST = 200;

/** Signals of values that were stilled in this window, by the values' addresses. */
const kept = new Map<string, SignalValue>();

function keyOf(address: string): string {
  // The same ids stand in other studies.
  return `${window.location.pathname} ${address}`;
}

/** Note how a value moved, before it is stilled. */
export function noteStilled(address: string, signal: SignalValue): void {
  kept.delete(keyOf(address));
  kept.set(keyOf(address), structuredClone(signal));
  if (kept.size > MOST) kept.delete(kept.keys().next().value!);
}

/** How a value moved before it was stilled. */
export function beforeStill(address: string | undefined): SignalValue | undefined {
  return address === undefined ? undefined : kept.get(keyOf(address));
}
