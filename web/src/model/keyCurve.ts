import type { KeyPoint, SignalValue } from "../api/document";
import { monotoneSlopes } from "./hermite";
import { sortedKeys } from "./keyEdits";

/** Slope with which a key is arrived at and left, in value per frame. */
export interface Tangent {
  in: number;
  out: number;
}

/** Tangents of keys in order, set by hand or smooth; where keys repeat, seen across the join. */
export function tangentsOf(keys: KeyPoint[], repeats: boolean): Tangent[] {
  const t = keys.map((k) => k.frame);
  const v = keys.map((k) => k.value);
  let slopes = monotoneSlopes(t, v);
  const n = keys.length;
  if (repeats && n > 2) {
    const span = t[n - 1] - t[0];
    const rise = v[n - 1] - v[0];
    slopes = monotoneSlopes(
      [t[n - 2] - span, ...t, t[1] + span],
      [v[n - 2] - rise, ...v, v[1] + rise],
    ).slice(1, -1);
  }
  return keys.map((k, i) => ({ in: k.in ?? slopes[i], out: k.out ?? slopes[i] }));
}

/** Whether keys come again before or after themselves, so that the curve goes on across the join. */
export function repeatsOf(signal: SignalValue): boolean {
  return [signal.before, signal.after].some((way) => way === "repeat" || way === "add");
}

/** The value between keys in order, as zygomorph/core/signals/keys.py has it; level beyond them. */
export function valueAt(keys: KeyPoint[], tangents: Tangent[], frame: number): number {
  const last = keys.length - 1;
  if (last < 0) return 0;
  if (frame <= keys[0].frame) return keys[0].value;
  if (frame >= keys[last].frame) return keys[last].value;
  const k = keys.findIndex((key, i) => i < last && frame < keys[i + 1].frame && frame >= key.frame);
  const [a, b] = [keys[k], keys[k + 1]];
  const h = b.frame - a.frame;
  const s = (frame - a.frame) / h;
  const ease = a.ease ?? "smooth";
  if (ease === "held") return a.value;
  if (ease === "linear") return a.value + (b.value - a.value) * s;
  return (
    (1 + 2 * s) * (1 - s) ** 2 * a.value +
    s * (1 - s) ** 2 * h * tangents[k].out +
    s ** 2 * (3 - 2 * s) * b.value +
    s ** 2 * (s - 1) * h * tangents[k + 1].in
  );
}

/** Points of the curve through keys over a span of frames, close enough to be drawn. */
export function curvePoints(
  given: KeyPoint[],
  repeats: boolean,
  from: number,
  to: number,
  count = 240,
): [number, number][] {
  const keys = sortedKeys(given);
  const tangents = tangentsOf(keys, repeats);
  const even = Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count);
  // Just before and at each key, so that steps are upright and corners are sharp.
  const frames = [...even, ...keys.flatMap((k) => [k.frame - 1e-6, k.frame])]
    .filter((f) => f >= from && f <= to)
    .sort((a, b) => a - b);
  return frames.map((f) => [f, valueAt(keys, tangents, f)]);
}
