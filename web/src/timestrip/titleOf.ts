import type { StudyState } from "../api/client";
import { markerAt, documentOf } from "../api/document";

/** A value by its step and its name, as the recipe has them. */
export function titleOf(
  state: StudyState,
  place: { piece: string; step: string; address: string; label: string },
): string {
  const marker = markerAt(documentOf(state), place.address);
  if (marker) return `${marker.name}, ${place.label.toLowerCase()}`;
  const motion = state.motion.find((m) => m.id === place.piece);
  const index = motion?.steps.findIndex((s) => s.id === place.step) ?? -1;
  const step = index >= 0 ? `${index + 1} ${motion!.steps[index].title}` : "Place";
  const piece = documentOf(state).pieces.find((p) => p.id === place.piece)?.name;
  const several = documentOf(state).pieces.length > 1;
  return `${several && piece ? `${piece}, ` : ""}${step}, ${place.label.toLowerCase()}`;
}
