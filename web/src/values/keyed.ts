import { isPair, isSignal, type KeyPoint, type Scalar, type SignalValue } from "../api/document";
import { repeatsOf, tangentsOf, valueAt } from "../timestrip/keyCurve";
import { sortedKeys } from "../timestrip/keyEdits";

/** A number with a key at a frame, of what it is now; null where another signal moves it.
 *
 * A key that stands there already keeps its ease; a new one has that of the key before it. */
export function keyedAt(value: Scalar, now: number, frame: number): SignalValue | null {
  if (isPair(value)) return null;
  const at = { frame, value: Number(now.toPrecision(6)) };
  if (!isSignal(value)) return { signal: "keys", keys: [{ ...at, ease: "smooth" }] };
  if (!value.keys) return value.signal === "hold" ? keyedAt(now, now, frame) : null;
  const keys = sortedKeys(value.keys);
  if (keys.length > 1 && frame >= keys[0].frame && frame <= keys[keys.length - 1].frame) {
    // Exactly on its curve, of which the lane knows some places only.
    at.value = Number(valueAt(keys, tangentsOf(keys, repeatsOf(value)), frame).toPrecision(6));
  }
  const before = keys.filter((k) => k.frame <= frame);
  const ease: KeyPoint["ease"] = before.at(-1)?.ease ?? value.keys[0]?.ease ?? "smooth";
  const rest = value.keys.filter((k) => k.frame !== frame);
  return { ...value, keys: sortedKeys([...rest, { ...at, ease }]) };
}
