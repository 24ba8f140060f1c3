import { Parser } from "expr-eval-fork";

const FACTORS: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, km: 1000 },
  "°": { "°": 1, deg: 1, rad: 180 / Math.PI, turn: 360, cycle: 360, cycles: 360 },
  cycle: { cycle: 1, cycles: 1, "°": 1 / 360, deg: 1 / 360 },
  "%": { "%": 1 },
  "×": { "×": 1, x: 1, "%": 0.01 },
  share: { "%": 0.01, share: 1 },
};

const parser = new Parser();

function units(unit: string, rate: number): Record<string, number> {
  if (unit === "frames") return { f: 1, frames: 1, frame: 1, s: rate };
  if (unit === "s") return { s: 1, f: 1 / rate, frames: 1 / rate };
  return FACTORS[unit] ?? { [unit.replace(/^\/\s*/, "")]: 1 };
}

/** Arithmetic with an optional unit, `132/4` or `30 cm`, or an explanation of what is wrong. */
export function parseNumber(
  text: string,
  unit: string,
  rate = 24,
): { value: number } | { error: string } {
  const trimmed = text.trim().replace(",", ".");
  const known = units(unit, rate);
  const suffix = /(?<=[\d)\s.])\s*([a-zA-Z°%×]+)$/.exec(trimmed);
  let factor = 1;
  let body = trimmed;
  if (suffix) {
    const found = known[suffix[1]];
    if (found === undefined) {
      const names = Object.keys(known).filter(Boolean).join(", ");
      return { error: `“${suffix[1]}” is not a unit here${names ? `; use ${names}` : ""}.` };
    }
    factor = found;
    body = trimmed.slice(0, suffix.index);
  }
  try {
    const value = Number(parser.evaluate(body)) * factor;
    if (!Number.isFinite(value)) return { error: "That has no finite value." };
    return { value };
  } catch {
    return { error: "Type a number or a sum, such as 132/4." };
  }
}

export function figure(value: number): string {
  const size = Math.abs(value);
  const digits = size >= 100 ? 1 : size >= 10 ? 2 : 3;
  return String(Number(value.toFixed(digits)));
}

export function withUnit(value: number, unit: string): string {
  if (!unit) return figure(value);
  return unit === "°" ? `${figure(value)}°` : `${figure(value)} ${unit}`;
}
