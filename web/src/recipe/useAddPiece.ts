import type { StudyState } from "../api/client";
import { freshId } from "../api/document";
import { documentOf } from "../api/queries";
import { useInterface } from "../state/store";
import { useChange } from "./useStep";

/** Add a piece that begins with a form, and choose it. */
export function useAddPiece(state: StudyState) {
  const change = useChange(state.id, "/pieces");
  const set = useInterface((s) => s.set);
  return (name: string, form: string, values: Record<string, unknown> = {}) => {
    const ids = documentOf(state).pieces.map((p) => p.id);
    const id = freshId("piece", ids);
    const item = {
      id,
      name,
      recipe: [{ id: "form", step: form, values }],
      look: { surface: { gradient: "dusk", low: -0.6, high: 0.6 } },
    };
    change.edit(
      `Add ${name}`,
      [{ do: "insert", path: "/pieces", after: ids.at(-1) ?? null, item: item as never }],
      // Not before: a piece that the study does not have yet cannot be chosen.
      () => set({ piece: id, step: "form", solo: null, layer: null }),
    );
  };
}

/** Add a piece from a mesh file that was brought in. */
export function useAddMesh(state: StudyState) {
  const add = useAddPiece(state);
  return (name: string, asset: string) =>
    add(name.slice(0, 120) || "Mesh", "imported", { mesh: asset, scale: 1.2 });
}
