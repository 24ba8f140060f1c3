import type { KeyPoint } from "../api/document";
import { roundStep } from "./roundStep";

/** A key after an arrow key: left and right by frames, up and down by a round step of its scale. */
export function nudgedKey(
  keys: KeyPoint[],
  index: number,
  pressed: string,
  far: boolean,
  span: number,
): KeyPoint[] | null {
  const key = keys[index];
  const across = { ArrowLeft: -1, ArrowRight: 1 }[pressed];
  const up = { ArrowUp: 1, ArrowDown: -1 }[pressed];
  if (!key || (!across && !up)) return null;
  let next = key;
  if (across) {
    // It stays between its neighbours: keys do not change places under the hand.
    const least = index > 0 ? keys[index - 1].frame + 1 : -Infinity;
    const most = index < keys.length - 1 ? keys[index + 1].frame - 1 : Infinity;
    const frame = key.frame + across * (far ? 10 : 1);
    next = { ...key, frame: Math.min(most, Math.max(least, frame)) };
  } else if (up) {
    const step = roundStep(span / 50) * (far ? 10 : 1);
    next = { ...key, value: Number((key.value + up * step).toPrecision(10)) };
  }
  return keys.map((k, i) => (i === index ? next : k));
}
