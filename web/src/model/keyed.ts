import { isPair, isSignal, type KeyPoint, type Scalar, type SignalValue } from "../api/document";
import { repeatsOf, tangentsOf, valueAt } from "./keyCurve";
import { sortedKeys } from "./keyEdits";

/** The signal with a key of a value at a frame. */
export function withKey(signal: SignalValue, frame: number, value: number): SignalValue {
  const keys = sortedKeys(signal.keys ?? []);
  const before = keys.filter((k) => k.frame <= frame).at(-1) ?? keys[0];
  const here = keys.find((k) => k.frame === frame);
  // A tangent that was set by hand stays; a new key goes on as the one before it.
  const one: KeyPoint = here
    ? { ...here, value }
    : { frame, value, ease: before?.ease ?? "smooth" };
  return { ...signal, keys: sortedKeys([...keys.filter((k) => k.frame !== frame), one]) };
}

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
