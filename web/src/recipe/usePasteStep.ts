import type { StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { fresh } from "../model/clipboard";
import { groupAfter } from "../model/rows";
import { folds } from "./folds";

/** Puts a copy of a step into a recipe, after another of its steps, and chooses it. */
export function usePasteStep(state: StudyState, piece: Piece | undefined) {
  const change = useChange(state.id, "");
  return (step: Step, after: string, label: string) => {
    if (!piece) return;
    const item = fresh<Step>(
      { ...step, group: null, ...groupAfter(piece, after, folds(state.id, piece.id)) },
      "step",
      piece.recipe.map((s) => s.id),
    );
    change.edit(label, [
      { do: "insert", path: `/pieces/${piece.id}/recipe`, after, item: item as never },
    ]);
    useInterface.getState().set({ step: item.id, layer: null });
  };
}
