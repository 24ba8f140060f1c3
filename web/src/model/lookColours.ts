import type { Catalogue, CatalogueEntry } from "../api/client";
import type { Look } from "../api/document";
import { applies } from "./applies";

const UNKNOWN = ["#888888"];

/** The colours of a look from low to high, or its only one. */
export function lookColours(look: Look | undefined, catalogue: Catalogue | undefined): string[] {
  const entry = catalogue?.looks.find((each) => each.key === look?.look);
  if (!catalogue || !entry) return UNKNOWN;
  const given = look?.values ?? {};
  const first = (kind: CatalogueEntry["values"][string]["kind"]) =>
    Object.entries(entry.values).find(
      ([name, value]) => value.kind === kind && applies(entry.values, given, name),
    );
  const gradient = first("gradient");
  if (gradient) {
    const [name, value] = gradient;
    const key = given[name] ?? value.default;
    return catalogue.gradients.find((each) => each.key === key)?.colours ?? UNKNOWN;
  }
  const colour = first("colour");
  return colour ? [String(given[colour[0]] ?? colour[1].default)] : UNKNOWN;
}

/** The one colour that stands for several: a light one of a gradient. */
export function oneOf(colours: string[]): string {
  return colours[Math.floor(colours.length * 0.6)] ?? colours[0];
}
