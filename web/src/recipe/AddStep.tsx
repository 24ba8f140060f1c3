import { client, unwrap, type CatalogueEntry, type Preset, type StudyState } from "../api/client";
import { freshId, type Piece } from "../api/document";
import { useCatalogue, usePresets } from "../api/queries";
import { useInterface, useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { foldKey, groupAfter } from "../model/rows";
import { EntrySheet, type Entry } from "./EntrySheet";
import { folds } from "./folds";
import { PresetFile, PresetMenu } from "./PresetMenu";

/** Insert a step with values that suit what it will act on. */
export function useAddStep(state: StudyState, piece: Piece | undefined) {
  const change = useChange(state.id, "");
  return async (entry: CatalogueEntry, after: string | null, own: Record<string, string> = {}) => {
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
      const end = after ?? piece.recipe[piece.recipe.length - 1].id;
      const group = groupAfter(piece, end, folds(state.id, piece.id));
      change.edit(`Add ${entry.title.toLowerCase()}`, [
        {
          do: "insert",
          path: `/pieces/${piece.id}/recipe`,
          after: end,
          item: { id, step: entry.key, values: { ...found.values, ...own }, ...group } as never,
        },
      ]);
      // What was opened meanwhile stays open.
      const { dialog } = useInterface.getState();
      set({ step: id, ribbon: "what", layer: null, dialog: dialog === "add" ? null : dialog });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
}

/** Make a picture the relief of a piece: of the relief that is chosen, or a new one. */
export function useAddRelief(state: StudyState, piece: Piece | undefined) {
  const catalogue = useCatalogue().data;
  const add = useAddStep(state, piece);
  const change = useChange(state.id, "");
  return async (picture: string) => {
    const { step } = useInterface.getState();
    const chosen = piece?.recipe.find((s) => s.id === step && s.step === "relief");
    if (piece && chosen) {
      const path = `pieces/${piece.id}/recipe/${chosen.id}/values/picture`;
      return change.store(path, picture, "Choose picture");
    }
    const entry = catalogue?.steps.find((s) => s.key === "relief");
    if (entry) await add(entry, step, { picture });
  };
}

/** Put a copy of a preset into the recipe. */
function useUsePreset(state: StudyState, piece: Piece | undefined) {
  const change = useChange(state.id, "");
  return async (preset: Preset, after: string | null) => {
    if (!piece) return;
    const { say, set, fold } = useInterface.getState();
    try {
      const use = unwrap(
        await client.POST("/api/presets/{preset_id}/use/{study_id}/{piece_id}", {
          params: { path: { preset_id: preset.id, study_id: state.id, piece_id: piece.id } },
          body: { after },
        }),
      );
      const { dialog } = useInterface.getState();
      set({ dialog: dialog === "add" ? null : dialog, step: null });
      // With values at its front there is no need to see its steps.
      fold(foldKey(state.id, piece.id, use.group), preset.front > 0);
      change.edit(`Use ${preset.name}`, use.operations as never);
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
}

/** Address of a picture of the study with a step that is not added yet. */
function trialAddress(study: string, piece: string, step: string, after: string | null): string {
  const { frame } = useInterface.getState();
  const query = new URLSearchParams({ step, frame: String(Math.round(frame)) });
  if (after) query.set("after", after);
  return `/api/studies/${study}/pieces/${piece}/trial.webp?${query}`;
}

/** The sheet of steps, with the presets first. */
export function AddStep({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const { dialog, addAfter, set } = useParts("dialog", "addAfter", "set");
  const catalogue = useCatalogue().data;
  const add = useAddStep(state, piece);
  const use = useUsePreset(state, piece);
  const presets = usePresets();
  const kept: Entry[] = presets.map((p) => ({
    sort: "preset",
    key: p.id,
    title: p.name,
    help: p.note || p.steps.join(", "),
    menu: <PresetMenu preset={p} />,
  }));
  return (
    <EntrySheet
      open={dialog === "add"}
      title="Add a step"
      placeholder="Which step? Type, or choose below"
      none={(wanted) => `No step is called “${wanted}”. Try “bend” or “push”.`}
      groups={[
        { label: "Presets", entries: kept },
        ...(catalogue?.groups ?? []).map((group) => ({
          label: group.label,
          entries: (catalogue?.steps ?? []).filter((s) => s.group === group.key),
        })),
      ]}
      pictures={presets.map((p) => ({ ...p, sort: "preset", key: p.id }))}
      aside={<PresetFile />}
      tried={({ sort, key }) =>
        piece && sort !== "preset" ? trialAddress(state.id, piece.id, key, addAfter) : undefined
      }
      pick={({ sort, key }) => {
        const preset = presets.find((p) => sort === "preset" && p.id === key);
        const entry = catalogue?.steps.find((s) => sort !== "preset" && s.key === key);
        if (preset) void use(preset, addAfter);
        else if (entry) void add(entry, addAfter);
      }}
      close={() => set({ dialog: null })}
    />
  );
}
