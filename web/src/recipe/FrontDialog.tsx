import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  InputBase,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { StudyState } from "../api/client";
import type { Front, Group, Piece } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { toggled, valuesOf } from "../model/frontValues";

/** Which values of its steps a group shows first, and what they are called there. */
export function FrontDialog({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const { dialog, fronting, set } = useParts("dialog", "fronting", "set");
  const group = piece?.groups?.find((g) => g.id === fronting);
  const close = () => set({ dialog: null });
  return (
    <Dialog
      open={dialog === "front" && group !== undefined}
      onClose={close}
      maxWidth="xs"
      fullWidth
    >
      <DialogTitle>Values at the front of “{group?.name}”</DialogTitle>
      {piece && group && <Choices state={state} piece={piece} group={group} close={close} />}
    </Dialog>
  );
}

interface Props {
  state: StudyState;
  piece: Piece;
  group: Group;
  close: () => void;
}

function Choices({ state, piece, group, close }: Props) {
  const catalogue = useCatalogue().data;
  const [front, setFront] = useState<Front[]>(group.front ?? []);
  const change = useChange(state.id, `/pieces/${piece.id}/groups/${group.id}`);
  const words = state.motion.find((m) => m.id === piece.id)?.steps ?? [];
  const rename = (id: string, name: string) =>
    setFront(front.map((f) => (f.id === id ? { ...f, name } : f)));
  return (
    <>
      <DialogContent>
        {piece.recipe
          .filter((s) => s.group === group.id)
          .map((step) => (
            <Box key={step.id} component="section" sx={{ mb: 1.5 }}>
              <Typography variant="h3" component="h2" color="textSecondary">
                {piece.recipe.indexOf(step) + 1}{" "}
                {words.find((w) => w.id === step.id)?.title ?? step.step}
              </Typography>
              {catalogue &&
                valuesOf(step, catalogue).map(({ path, entry, layer }) => {
                  const chosen = front.find((f) => f.step === step.id && f.value === path);
                  return (
                    <Box key={path} sx={{ display: "flex", alignItems: "center", height: 30 }}>
                      <FormControlLabel
                        control={<Checkbox size="small" checked={Boolean(chosen)} />}
                        label={layer ? `${layer}: ${entry.label.toLowerCase()}` : entry.label}
                        onChange={() => setFront(toggled({ ...group, front }, step.id, path))}
                        sx={{ flex: 1 }}
                      />
                      {chosen && (
                        <InputBase
                          value={chosen.name ?? ""}
                          placeholder="A name of its own"
                          onChange={(e) => rename(chosen.id, e.target.value)}
                          inputProps={{ "aria-label": `Name of ${entry.label}`, maxLength: 60 }}
                          sx={{
                            width: 150,
                            fontSize: 13,
                            borderBottom: "1px solid",
                            borderColor: "divider",
                          }}
                        />
                      )}
                    </Box>
                  );
                })}
            </Box>
          ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button
          variant="contained"
          onClick={() => {
            change.edit("Choose values at the front", [
              {
                do: "set",
                path: `/pieces/${piece.id}/groups/${group.id}/front`,
                value: front as never,
              },
            ]);
            close();
          }}
        >
          {front.length === 0
            ? "Show none"
            : `Show ${front.length === 1 ? "this value" : `these ${front.length} values`}`}
        </Button>
      </DialogActions>
    </>
  );
}
