import { Parser } from "expr-eval-fork";

const FACTORS: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, km: 1000, in: 0.0254, ft: 0.3048 },
  "°": { "°": 1, deg: 1, rad: 180 / Math.PI, turn: 360, cycle: 360, cycles: 360 },
  cycle: { cycle: 1, cycles: 1, "°": 1 / 360, deg: 1 / 360 },
  "%": { "%": 1 },
  "×": { "×": 1, x: 1, "%": 0.01 },
  share: { "%": 0.01, share: 1 },
};

const parser = new Parser();

function units(unit: string, rate: number): Record<string, number> {
  if (unit === "frames") return { f: 1, frames: 1, frame: 1, s: rate, ms: rate / 1000 };
  if (unit === "s") return { s: 1, ms: 0.001, f: 1 / rate, frames: 1 / rate };
  return FACTORS[unit] ?? { [unit.replace(/^\/\s*/, "")]: 1 };
}

/** A number, or the end of a bracket, with the unit behind it. */
const MEASURED = /((?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?|\))\s*([a-zA-Z°%×]+)(?![\w(])/g;

class UnknownUnit extends Error {}

/** The text with each measured number in the unit of the value: `30 cm + 1 in` as metres. */
function inOneUnit(text: string, known: Record<string, number>): string {
  return text.replace(MEASURED, (_, head: string, unit: string) => {
    const factor = known[unit];
    if (factor === undefined) throw new UnknownUnit(unit);
    return head === ")" ? `)*${factor}` : `(${head}*${factor})`;
  });
}

/**
 * Arithmetic with units, `132/4`, `30 cm` or `30 cm + 1 in`, or an explanation of what is wrong. A
 * single unit at the end is that of the whole.
 */
export function parseNumber(
  text: string,
  unit: string,
  rate = 24,
): { value: number } | { error: string } {
  const trimmed = text.trim().replace(",", ".");
  const known = units(unit, rate);
  let factor = 1;
  let body = trimmed;
  try {
    const suffix = /(?<=[\d)\s.])\s*([a-zA-Z°%×]+)$/.exec(trimmed);
    const several = (trimmed.match(MEASURED) ?? []).length > 1;
    if (several) body = inOneUnit(trimmed, known);
    else if (suffix) {
      factor = known[suffix[1]];
      if (factor === undefined) throw new UnknownUnit(suffix[1]);
      body = trimmed.slice(0, suffix.index);
    }
    const value = Number(parser.evaluate(body)) * factor;
    if (!Number.isFinite(value)) return { error: "That has no finite value." };
    return { value };
  } catch (error) {
    if (error instanceof UnknownUnit) {
      const names = Object.keys(known).filter(Boolean).join(", ");
      return { error: `“${error.message}” is not a unit here${names ? `; use ${names}` : ""}.` };
    }
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
