import type { CatalogueEntry, StudyState } from "../api/client";
import { freshId, type DocValue, type Piece, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { FileButton } from "../common/FileButton";
import { useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { keptValues } from "../model/keptValues";
import { freeName, namedByForm } from "../model/names";
import { beginning } from "./beginning";
import { EntrySheet } from "./EntrySheet";
import { useAddPiece } from "./useAddPiece";

/** Forms of files come with the file that is dropped. */
function needsFile(form: CatalogueEntry): boolean {
  return Object.values(form.values).some((v) => v.kind === "asset");
}

/** The sheet of forms: for a new piece, or in place of a piece's own form while its steps stay. */
export function ChooseForm(props: {
  state: StudyState;
  piece: Piece | undefined;
  bring: (files: File[]) => void;
}) {
  const { state, piece, bring } = props;
  const { dialog, set } = useParts("dialog", "set");
  const catalogue = useCatalogue().data;
  const addPiece = useAddPiece(state.id);
  const change = useChange(state.id, "/pieces");
  const exchange = dialog === "exchange";
  const close = () => set({ dialog: null });
  const forms = (catalogue?.forms ?? []).filter((f) => !needsFile(f));
  return (
    <EntrySheet
      open={dialog === "piece" || exchange}
      title={exchange ? "Exchange the form" : "Add a piece"}
      placeholder={
        exchange
          ? "Which form instead? The steps stay"
          : "Which form does the new piece begin with?"
      }
      none={(wanted) => `No form is called “${wanted}”. Try “sheet” or “curve”.`}
      groups={(catalogue?.form_groups ?? []).map((group) => ({
        label: group.label,
        entries: forms.filter((f) => f.group === group.key),
      }))}
      close={close}
      aside={
        !exchange && (
          <FileButton
            label="From a file"
            bring={(files) => {
              close();
              bring(files);
            }}
          />
        )
      }
      pick={(entry) => {
        close();
        // What went wrong is said by the edit itself.
        if (!exchange)
          return void addPiece(entry.title, entry.key, beginning(entry)).catch(() => undefined);
        const old = piece?.recipe[0];
        const names = documentOf(state)
          .pieces.filter((p) => p.id !== piece?.id)
          .map((p) => p.name);
        if (!piece || !old || old.step === entry.key) return;
        const before = catalogue?.forms.find((f) => f.key === old.step);
        const kept = keptValues((old.values ?? {}) as Record<string, DocValue>, before, entry);
        const values = { ...beginning(entry), ...kept };
        const id = freshId(
          "form",
          piece.recipe.map((s) => s.id),
        );
        change.edit(
          `Exchange ${before?.title.toLowerCase() ?? "form"} for ${entry.title.toLowerCase()}`,
          [
            { do: "remove", path: `/pieces/${piece.id}/recipe/${old.id}` },
            {
              do: "insert",
              path: `/pieces/${piece.id}/recipe`,
              after: null,
              item: { id, step: entry.key, values } as never,
            },
            // What was called by its old form is called by its new one.
            ...(before && namedByForm(piece.name, before.title)
              ? [
                  {
                    do: "set" as const,
                    path: `/pieces/${piece.id}/name`,
                    value: freeName(entry.title, names) as never,
                  },
                ]
              : []),
          ],
        );
        set({ step: id, ribbon: "what", layer: null });
      }}
    />
  );
}
