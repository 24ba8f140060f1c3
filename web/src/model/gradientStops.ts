import type { Schemas } from "../api/client";
import type { DocValue, OwnGradient } from "../api/document";

export type Stop = OwnGradient["stops"][number];
type Bundled = Schemas["GradientEntry"];

/** What the server takes. */
export const MOST_STOPS = 64;

/** A gradient as one of its own: a bundled one by its name is written out. */
export function ownGradient(value: DocValue, bundled: Bundled[]): OwnGradient {
  if (typeof value === "object" && "stops" in value) return value as OwnGradient;
  const known = bundled.find((each) => each.key === value) ?? bundled[0];
  return { stops: known ? known.stops : [{ at: 0, colour: "#888888" }] };
}

/** The background that shows a gradient, joined and mixed as it says. */
export function gradientCss({ stops, join, mix }: OwnGradient): string {
  const ordered = [...stops].sort((a, b) => a.at - b.at);
  const percent = (at: number) => `${Number((at * 100).toFixed(2))}%`;
  if (join === "held") {
    const held = ordered.flatMap(({ at, colour }, k) => [
      `${colour} ${percent(k === 0 ? 0 : at)}`,
      `${colour} ${percent(ordered[k + 1]?.at ?? 1)}`,
    ]);
    return `linear-gradient(90deg, ${held.join(", ")})`;
  }
  const colours = ordered.map(({ at, colour }) => `${colour} ${percent(at)}`);
  if (colours.length === 1) return ordered[0].colour;
  const space = mix === "linear" ? "srgb-linear" : "oklab";
  return `linear-gradient(in ${space} 90deg, ${colours.join(", ")})`;
}

const rounded = (at: number) => Number(Math.max(0, Math.min(1, at)).toFixed(4));

/** With a stop moved, by its number. */
export function moved(gradient: OwnGradient, stop: number, at: number): OwnGradient {
  const stops = gradient.stops.map((each, k) => (k === stop ? { ...each, at: rounded(at) } : each));
  return { ...gradient, stops };
}

/** With a stop more, behind all others in the list; null where there are as many as may be. */
export function added(gradient: OwnGradient, at: number, colour: string): OwnGradient | null {
  if (gradient.stops.length >= MOST_STOPS) return null;
  return { ...gradient, stops: [...gradient.stops, { at: rounded(at), colour }] };
}

/** Without a stop; the last one stays. */
export function removed(gradient: OwnGradient, stop: number): OwnGradient {
  if (gradient.stops.length === 1) return gradient;
  return { ...gradient, stops: gradient.stops.filter((_, k) => k !== stop) };
}

export function reversed(gradient: OwnGradient): OwnGradient {
  const stops = gradient.stops.map(({ at, colour }) => ({ at: rounded(1 - at), colour }));
  return { ...gradient, stops: stops.reverse() };
}

/** With the same distance between all stops, from the first to the last. */
export function spaced(gradient: OwnGradient): OwnGradient {
  const ordered = [...gradient.stops].sort((a, b) => a.at - b.at);
  const last = Math.max(1, ordered.length - 1);
  return { ...gradient, stops: ordered.map((stop, k) => ({ ...stop, at: rounded(k / last) })) };
}

/** A typed colour as the document has it, or null: three or six hexadecimal digits. */
export function typedColour(text: string): string | null {
  const digits = text.trim().replace(/^#/, "").toLowerCase();
  if (/^[0-9a-f]{6}$/.test(digits)) return `#${digits}`;
  if (/^[0-9a-f]{3}$/.test(digits)) return `#${[...digits].map((d) => d + d).join("")}`;
  return null;
}
