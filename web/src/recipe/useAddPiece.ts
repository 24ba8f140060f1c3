import { useQueryClient } from "@tanstack/react-query";
import type { Schemas, StudyState } from "../api/client";
import { freshId, documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { freeName } from "../model/names";

/** By the height in the piece, from its lowest to its highest point, however large it is. */
const FIRST_LOOK = {
  id: "surface",
  look: "surface",
  by: [
    {
      id: "colour",
      values: { gradient: "dusk" },
      where: {
        layers: [{ id: "by", layer: "height", profile: "linear", values: { axis: [0, 1, 0] } }],
      },
    },
  ],
};

/** Adds a piece that begins with a form, and chooses it when it is stored. */
export function useAddPiece(study: string) {
  const queries = useQueryClient();
  const change = useChange(study, "/pieces");
  const set = useInterface((s) => s.set);
  return async (name: string, form: string, values: Record<string, unknown> = {}) => {
    // As it is now: of several pieces added in turn, each is to see those before it.
    const state = queries.getQueryData<StudyState>(["study", study]);
    const ids = state ? documentOf(state).pieces.map((p) => p.id) : [];
    const id = freshId("piece", ids);
    const item = {
      id,
      name: freeName(name, state ? documentOf(state).pieces.map((p) => p.name) : []),
      recipe: [{ id: "form", step: form, values }],
      looks: [FIRST_LOOK],
    };
    await change.stored(`Add ${name}`, [
      { do: "insert", path: "/pieces", after: ids.at(-1) ?? null, item: item as never },
    ]);
    set({ piece: id, step: "form", solo: null, layer: null });
  };
}

/** Adds a piece from a file that was brought in. */
export function useAddFile(study: string) {
  const add = useAddPiece(study);
  return (name: string, report: Schemas["AssetReport"]) =>
    add(name.slice(0, 120) || "Mesh", report.form, report.values);
}
