import { Box, Dialog, DialogTitle, InputBase, Typography } from "@mui/material";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { useState } from "react";
import { client, unwrap, type CatalogueEntry, type StudyState } from "../api/client";
import { freshId, type Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface, useParts } from "../state/store";
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

/** The searchable sheet of steps, in groups by what the artist wants. */
export function AddStep({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const { dialog, addAfter, set } = useParts("dialog", "addAfter", "set");
  const catalogue = useCatalogue().data;
  const [wanted, setWanted] = useState("");
  const add = useAddStep(state, piece);
  const close = () => {
    set({ dialog: null });
    setWanted("");
  };
  const found = (catalogue?.steps ?? []).filter((s) =>
    `${s.title} ${s.help} ${s.group}`.toLowerCase().includes(wanted.toLowerCase()),
  );
  const pick = (entry: CatalogueEntry) => {
    void add(entry, addAfter);
    setWanted("");
  };
  return (
    <Dialog open={dialog === "add"} onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle sx={visuallyHidden}>Add a step</DialogTitle>
      <InputBase
        autoFocus
        placeholder="Which step? Type, or choose below"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter" && found[0]) pick(found[0]);
          if (e.key === "Escape") close();
        }}
        inputProps={{ "aria-label": "Search steps" }}
        sx={{ px: 3, py: 1.75, fontSize: 17, borderBottom: "1px solid", borderColor: "divider" }}
      />
      <Box sx={{ p: 2, maxHeight: 440, overflowY: "auto" }}>
        {(catalogue?.groups ?? []).map((group) => {
          const own = found.filter((s) => s.group === group.key);
          return own.length ? (
            <Box key={group.key} sx={{ mb: 1.5 }}>
              <Typography variant="h3" component="h2" color="textSecondary" sx={{ px: 1, mb: 0.5 }}>
                {group.label}
              </Typography>
              {own.map((entry) => (
                <Box
                  key={entry.key}
                  component="button"
                  type="button"
                  onClick={() => pick(entry)}
                  sx={{
                    all: "unset",
                    boxSizing: "border-box",
                    display: "block",
                    width: "100%",
                    px: 1,
                    py: 0.75,
                    borderRadius: 2,
                    cursor: "pointer",
                    "&:hover, &:focus-visible": { bgcolor: "roles.quiet" },
                  }}
                >
                  <Typography component="span" sx={{ fontWeight: 600, mr: 1 }}>
                    {entry.title}
                  </Typography>
                  <Typography component="span" variant="body2" color="textSecondary">
                    {entry.help}
                  </Typography>
                </Box>
              ))}
            </Box>
          ) : null;
        })}
        {found.length === 0 && (
          <Typography color="textSecondary" sx={{ p: 2 }}>
            No step is called “{wanted}”. Try “bend” or “push”.
          </Typography>
        )}
      </Box>
    </Dialog>
  );
}
