import { client, unwrap, type CatalogueEntry, type StudyState } from "../api/client";
import { freshId, type Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface, useParts } from "../state/store";
import { EntrySheet } from "./EntrySheet";
import { useChange } from "./useStep";

/** Insert a step with values that suit what it will act on. */
export function useAddStep(state: StudyState, piece: Piece | undefined) {
  const change = useChange(state.id, "");
  return async (entry: CatalogueEntry, after: string | null) => {
    if (!piece) return;
    const { say, set } = useInterface.getState();
    try {
      const found = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/suggest", {
          params: { path: { study_id: state.id, piece_id: piece.id } },
          body: { sort: "step", key: entry.key, after },
        }),
      );
      const id = freshId(
        "step",
        piece.recipe.map((s) => s.id),
      );
      change.edit(`Add ${entry.title.toLowerCase()}`, [
        {
          do: "insert",
          path: `/pieces/${piece.id}/recipe`,
          after: after ?? piece.recipe.at(-1)?.id ?? null,
          item: { id, step: entry.key, values: found.values } as never,
        },
      ]);
      set({ step: id, ribbon: "what", layer: null, dialog: null });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
}

/** The sheet of steps. */
export function AddStep({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const { dialog, addAfter, set } = useParts("dialog", "addAfter", "set");
  const catalogue = useCatalogue().data;
  const add = useAddStep(state, piece);
  return (
    <EntrySheet
      open={dialog === "add"}
      title="Add a step"
      placeholder="Which step? Type, or choose below"
      none={(wanted) => `No step is called “${wanted}”. Try “bend” or “push”.`}
      groups={(catalogue?.groups ?? []).map((group) => ({
        label: group.label,
        entries: (catalogue?.steps ?? []).filter((s) => s.group === group.key),
      }))}
      pick={(entry) => void add(entry, addAfter)}
      close={() => set({ dialog: null })}
    />
  );
}
