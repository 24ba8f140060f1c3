import type { Catalogue } from "../api/client";
import type { StudyDocument } from "../api/document";

const WHOLES: Record<string, string> = {
  on: "in use",
  visible: "shown",
  look: "look",
  place: "place",
};

/** What stands at an address, in words: its piece where there are several, its step, its name. */
export function addressWords(
  document: StudyDocument,
  catalogue: Catalogue,
  address: string,
): string {
  const parts = address.split("/").slice(1);
  if (parts[0] === "markers") {
    const marker = document.markers?.find((m) => m.id === parts[1]);
    const name = parts[3] ? (catalogue.marker_values[parts[3]]?.label ?? parts[3]) : "place";
    return `${marker?.name ?? "a marker that is gone"}, ${name.toLowerCase()}`;
  }
  if (parts[0] !== "pieces") return `the ${parts.join(" ")}`;
  const piece = document.pieces.find((p) => p.id === parts[1]);
  const words: string[] = [];
  if (document.pieces.length > 1 || !piece) words.push(piece?.name ?? "a piece that is gone");
  const last = parts[parts.length - 1];
  if (parts[2] !== "recipe") {
    const entries = parts[2] === "place" ? catalogue.place_values : catalogue.looks[0]?.values;
    const label = entries?.[last]?.label.toLowerCase();
    words.push(label ? `${parts[2]}: ${label}` : (WHOLES[last] ?? last));
    return words.join(", ");
  }
  const index = piece?.recipe.findIndex((s) => s.id === parts[3]) ?? -1;
  if (index < 0) return [...words, "a step that is gone"].join(", ");
  const step = piece!.recipe[index];
  const entry = [...catalogue.forms, ...catalogue.steps].find((d) => d.key === step.step);
  words.push(`${index + 1} ${entry?.title ?? step.step}`);
  const layer = step.where?.layers?.find((l) => l.id === parts[6]);
  const own = catalogue.layers.find((d) => d.key === layer?.layer);
  if (parts[4] === "where") words.push(own?.title ?? "a layer that is gone");
  const entries = layer ? { ...own?.values, ...catalogue.layer_values } : entry?.values;
  words.push((entries?.[last]?.label ?? WHOLES[last] ?? last).toLowerCase());
  return words.join(", ");
}
