import type { KeyPoint } from "../api/document";

export function sortedKeys(keys: KeyPoint[]): KeyPoint[] {
  return [...keys].sort((a, b) => a.frame - b.frame);
}

/** Of keys at one frame the last one counts. */
export function withoutDoubles(keys: KeyPoint[]): KeyPoint[] {
  return sortedKeys([...new Map(keys.map((k) => [k.frame, k])).values()]);
}

/**
 * Keys run backwards, within their own time, or within the loop where they fill it. A stretch keeps
 * its ease: what led from a key to the next leads from the next to it.
 */
export function mirrored(keys: KeyPoint[], frames: number): KeyPoint[] {
  const ordered = sortedKeys(keys);
  if (ordered.length === 0) return [];
  const first = ordered[0].frame;
  const last = ordered[ordered.length - 1].frame;
  const sum = first >= 0 && last <= frames && last - first >= frames - 1 ? frames : first + last;
  return sortedKeys(
    ordered.map((key, k) => {
      const { in: into, out, ...rest } = key;
      const before = ordered[Math.max(0, k - 1)];
      return {
        ...rest,
        frame: sum - key.frame,
        ease: k > 0 ? before.ease : ordered[ordered.length - 1].ease,
        ...(out == null ? {} : { in: -out }),
        ...(into == null ? {} : { out: -into }),
      };
    }),
  );
}

/** Some keys moved by frames and by a value; they keep to whole frames. */
export function shifted(
  keys: KeyPoint[],
  chosen: ReadonlySet<number>,
  frames: number,
  value: number,
): KeyPoint[] {
  return keys.map((key, k) =>
    chosen.has(k)
      ? {
          ...key,
          frame: Math.round(key.frame + frames),
          value: Number((key.value + value).toPrecision(6)),
        }
      : key,
  );
}

/** Some keys nearer to a frame, or farther from it; tangents keep their shape. */
export function scaledAbout(
  keys: KeyPoint[],
  chosen: ReadonlySet<number>,
  frame: number,
  factor: number,
): KeyPoint[] {
  return keys.map((key, k) => {
    if (!chosen.has(k)) return key;
    const slope = (s: number | null | undefined) => (s == null ? {} : s / factor);
    return {
      ...key,
      frame: Math.round(frame + (key.frame - frame) * factor),
      ...(key.in == null ? {} : { in: slope(key.in) as number }),
      ...(key.out == null ? {} : { out: slope(key.out) as number }),
    };
  });
}

export type Ease = "linear" | "smooth" | "held" | "eased";

/** How a key arrives and goes on; "eased" is smooth with level tangents. */
export function easedBy(key: KeyPoint, ease: Ease): KeyPoint {
  const { frame, value } = key;
  if (ease === "eased") return { frame, value, ease: "smooth", in: 0, out: 0 };
  return { frame, value, ease };
}

export function easeOf(key: KeyPoint): Ease {
  if ((key.ease ?? "smooth") !== "smooth") return key.ease!;
  return key.in === 0 && key.out === 0 ? "eased" : "smooth";
}
