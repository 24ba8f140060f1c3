import type { KeyPoint } from "../api/document";
import { mirrored, scaledAbout, sortedKeys } from "../model/keyEdits";

/** Along which of a key's two numbers chosen keys are mirrored or scaled. */
export type Along = "time" | "value";

/** What an edit makes of the keys, in their own order; or in words why it makes nothing. */
export type Edited = { keys: KeyPoint[] } | { refused: string };

/** All of them where none is chosen. */
function indices(keys: KeyPoint[], chosen: ReadonlySet<number>): number[] {
  return chosen.size ? [...chosen].sort((a, b) => a - b) : [...keys.keys()];
}

function put(keys: KeyPoint[], at: number[], made: KeyPoint[]): Edited {
  const next = [...keys];
  at.forEach((index, k) => (next[index] = made[k]));
  const frames = next.map((k) => k.frame);
  if (new Set(frames).size < frames.length)
    return { refused: "Two keys would fall on one frame, and one of them be lost." };
  return { keys: next };
}

/** Values go up where they went down, about the middle of them. */
function flipped(part: KeyPoint[]): KeyPoint[] {
  const values = part.map((k) => k.value);
  const sum = Math.min(...values) + Math.max(...values);
  return part.map(({ in: into, out, ...key }) => ({
    ...key,
    value: Number((sum - key.value).toPrecision(9)),
    ...(into == null ? {} : { in: -into }),
    ...(out == null ? {} : { out: -out }),
  }));
}

/** Mirror the chosen keys within their own time or about their middle value. */
export function mirror(
  keys: KeyPoint[],
  chosen: ReadonlySet<number>,
  along: Along,
  frames: number,
): Edited {
  const at = indices(keys, chosen);
  const part = at.map((k) => keys[k]);
  if (part.length < 2) return { refused: "One key alone is its own mirror image: choose more." };
  if (along === "value") return put(keys, at, flipped(part));
  // Of all keys those that fill the loop turn within the loop.
  const all = at.length === keys.length;
  const reach = all ? frames : Number.POSITIVE_INFINITY;
  return put(keys, at, mirrored(part, reach));
}

/** Scale the chosen keys: their time about a frame, or their values about their middle. */
export function scale(
  keys: KeyPoint[],
  chosen: ReadonlySet<number>,
  along: Along,
  factor: number,
  frame: number,
): Edited {
  const at = indices(keys, chosen);
  if (along === "time") {
    if (!(factor > 0))
      return { refused: "In time the factor is above 0; Mirror runs keys backwards." };
    return put(
      keys,
      at,
      at.map((k) => scaledAbout(keys, new Set([k]), frame, factor)[k]),
    );
  }
  const values = at.map((k) => keys[k].value);
  const middle = (Math.min(...values) + Math.max(...values)) / 2;
  if (at.length < 2) return { refused: "One key alone has no span of values: choose more." };
  return put(
    keys,
    at,
    at.map((k) => {
      const { in: into, out, ...key } = keys[k];
      return {
        ...key,
        value: Number((middle + (key.value - middle) * factor).toPrecision(9)),
        ...(into == null ? {} : { in: into * factor }),
        ...(out == null ? {} : { out: out * factor }),
      };
    }),
  );
}

/** Copied keys at a frame, forwards or the last one first. */
export function pasted(copied: KeyPoint[], frame: number, backwards: boolean): KeyPoint[] {
  const ordered = sortedKeys(copied);
  const part = backwards ? mirrored(ordered, Number.POSITIVE_INFINITY) : ordered;
  const first = part[0]?.frame ?? 0;
  return part.map((k) => ({ ...k, frame: k.frame - first + frame }));
}
