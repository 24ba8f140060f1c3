import { client, unwrap, type StudyState } from "../api/client";
import { freshId, type Piece, type Step } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";

/** Add a layer to a step's mask, with values that suit what the step acts on. */
export function useAddLayer(state: StudyState, piece: Piece | undefined, step: Step | undefined) {
  const change = useChange(state.id, "");
  return async (key: string) => {
    if (!piece || !step) return;
    const { say, set } = useInterface.getState();
    const layers = step.where?.layers ?? [];
    const before = piece.recipe[piece.recipe.findIndex((s) => s.id === step.id) - 1];
    try {
      const { values } = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/suggest", {
          params: { path: { study_id: state.id, piece_id: piece.id } },
          body: { sort: "layer", key, after: before?.id ?? null },
        }),
      );
      const id = freshId(
        "layer",
        layers.map((l) => l.id),
      );
      change.edit("Add mask layer", [
        {
          do: "insert",
          path: `/pieces/${piece.id}/recipe/${step.id}/where/layers`,
          after: layers.at(-1)?.id ?? null,
          item: { id, layer: key, values } as never,
        },
      ]);
      set({ step: step.id, ribbon: "where", layer: id, heat: true });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
}
