import type { ValueEntry } from "../api/client";
import type { SignalValue } from "../api/document";
import { settle } from "./scale";

/** The signal a still value begins to move by: something that is seen, and that closes. */
export function startMoving(now: number, entry: ValueEntry): SignalValue {
  if (entry.unit === "cycle") {
    return { signal: "cycle", shape: "saw", cycles: 1, low: now, high: now + 1 };
  }
  if (entry.unit === "°" && entry.label.startsWith("Turn")) {
    return { signal: "cycle", shape: "saw", cycles: 1, low: now, high: now + 360 };
  }
  const span = (entry.soft[1] - entry.soft[0]) * 0.15;
  const by = entry.scale === "log" ? Math.abs(now) * 0.3 : span;
  return {
    signal: "cycle",
    shape: "sine",
    cycles: 1,
    low: settle(now - by, entry),
    high: settle(now + by, entry),
  };
}

/** Between which values a signal moves, as far as its own numbers say. */
function rangeOf(from: SignalValue, now: number): [number, number] {
  if (from.keys) {
    const values = from.keys.map((k) => k.value);
    return [Math.min(...values), Math.max(...values)];
  }
  return [Number(from.low ?? now), Number(from.high ?? now + (from.low === undefined ? 1 : 0))];
}

/** Another kind of signal with as much as possible of the one before. */
export function changeKind(
  from: SignalValue,
  kind: string,
  frames: number,
  now: number,
): SignalValue {
  const low = Number(from.low ?? now);
  const high = Number(from.high ?? now);
  if (kind === "hold") return { signal: "hold", value: now };
  if (kind === "keys") {
    const first = { frame: 0, value: low, ease: "smooth" as const };
    return {
      signal: "keys",
      before: "repeat",
      after: "repeat",
      keys: [
        first,
        { frame: Math.round(frames / 2), value: high === low ? low + 1 : high, ease: "smooth" },
        { ...first, frame: frames },
      ],
    };
  }
  const across = {
    ...(from.stagger ? { stagger: from.stagger } : {}),
    // Numbers of the last element belong to the kind of signal that has them.
    ...(from.spread ? { spread: { ...(from.spread as object), to: {} } } : {}),
  };
  const [least, most] = rangeOf(from, now);
  const short = (v: number) => Number(v.toPrecision(4));
  switch (kind) {
    case "run":
      return {
        signal: kind,
        rate: from.shape === "saw" ? short(most - least) : 1,
        start: short(now),
        ...across,
      };
    case "formula": {
      const [middle, half] = [short((least + most) / 2), short((most - least) / 2)];
      return { signal: kind, text: `${middle} + ${half} * sin(tau * p)`, ...across };
    }
    case "link":
      return { signal: kind, to: "", factor: 1, offset: short(now), ...across };
    default:
      return { signal: kind, low: least, high: most, ...across };
  }
}
