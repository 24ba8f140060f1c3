import type { Catalogue } from "../api/client";
import { isMovingColour, type Look } from "../api/document";
import { ownGradient } from "./gradientStops";

const UNKNOWN = ["#888888"];

/** The colours of a look from low to high, or its only one. */
export function lookColours(look: Look | undefined, catalogue: Catalogue | undefined): string[] {
  const entry = catalogue?.looks.find((each) => each.key === look?.look);
  if (!catalogue || !entry || !look) return UNKNOWN;
  const [name, value] =
    Object.entries(entry.values).find(([, { kind }]) => kind === "colour") ?? [];
  if (!name || !value) return UNKNOWN;
  const by = look.by?.find((each) => each.id === name);
  if (!by?.where?.layers?.some((layer) => layer.on !== false))
    return plainColours(look.values?.[name] ?? value.default, catalogue);
  const pictured =
    by.values?.coloured === "picture" &&
    by.where.layers.some(
      (layer) => catalogue.layers.find(({ key }) => key === layer.layer)?.coloured,
    );
  if (pictured) return plainColours(look.values?.[name] ?? value.default, catalogue);
  const given = by.values?.gradient ?? (value.by_values?.gradient?.default as string);
  const { stops } = ownGradient(given, catalogue.gradients);
  return [...stops].sort((a, b) => a.at - b.at).map(({ colour }) => colour);
}

/** Those of a colour that moves, or the only one. */
function plainColours(value: unknown, catalogue: Catalogue): string[] {
  if (!isMovingColour(value)) return [String(value)];
  const { stops } = ownGradient(value.gradient, catalogue.gradients);
  return stops.map(({ colour }) => colour);
}

/** The one colour that stands for several: a light one of a gradient. */
export function oneOf(colours: string[]): string {
  return colours[Math.floor(colours.length * 0.6)] ?? colours[0];
}

/** A strip of several colours, as a background. */
export function stripOf(colours: string[]): string {
  return `linear-gradient(in oklab 90deg, ${colours.join(", ")})`;
}
