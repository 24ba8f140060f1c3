import { client, unwrap, type StudyState } from "../api/client";
import { freshId, type Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { layerName, type MaskOwner } from "../model/maskOwner";

/** Add a layer to a mask, with values that suit what it is read on. */
export function useAddLayer(
  state: StudyState,
  piece: Piece | undefined,
  owner: MaskOwner | undefined,
) {
  const change = useChange(state.id, "");
  const catalogue = useCatalogue().data;
  return async (key: string) => {
    if (!piece || !owner) return;
    const { say, set } = useInterface.getState();
    const { layers, step, inLook } = owner;
    const before = piece.recipe[piece.recipe.findIndex((s) => s.id === step) - 1];
    try {
      const values = await suggested(state.id, piece.id, key, inLook ? null : before?.id);
      const id = freshId(
        "layer",
        layers.map((l) => l.id),
      );
      // A colour goes by value evenly, where a mask falls off softly.
      const profile = owner.below ? { profile: "linear" } : {};
      const pictured =
        owner.ofColour && catalogue?.layers.find((entry) => entry.key === key)?.coloured;
      change.edit("Add mask layer", [
        {
          do: "insert",
          path: `${owner.at}/where/layers`,
          after: layers.at(-1)?.id ?? null,
          item: { id, layer: key, ...profile, values } as never,
        },
        ...(pictured
          ? [{ do: "set" as const, path: `${owner.at}/values/coloured`, value: "picture" as never }]
          : []),
      ]);
      const own = { layer: layerName(owner, id), heat: !inLook };
      set(inLook ? own : { ...own, step, ribbon: "where" });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
}

/** Values for a new layer of a kind that suit a piece, as it is after a step or in the end. */
export async function suggested(
  study: string,
  piece: string,
  key: string,
  after: string | null | undefined,
): Promise<Record<string, unknown>> {
  const answer = await client.POST("/api/studies/{study_id}/pieces/{piece_id}/suggest", {
    params: { path: { study_id: study, piece_id: piece } },
    body: { sort: "layer", key, after: after ?? null },
  });
  return unwrap(answer).values;
}
