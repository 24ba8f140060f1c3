import { Box, MenuItem, Select, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { StepWords, StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useChange } from "../common/useStep";
import { stepOwner } from "../model/maskOwner";
import { MaskLayers } from "./MaskLayers";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
}

/** The layers of a step's mask, and what the step moves. */
export function Where({ state, piece, step, words }: Props) {
  const catalogue = useCatalogue().data;
  const change = useChange(state.id, `/pieces/${piece.id}/recipe/${step.id}/where`);
  const owner = stepOwner(piece, step);
  return (
    <Box>
      {owner.layers.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
          It acts everywhere. Add a layer to say where.
        </Typography>
      )}
      <MaskLayers state={state} piece={piece} owner={owner} lanes={words.lanes}>
        {owner.layers.length > 0 && (
          <StoreName
            key={step.where?.store ?? ""}
            name={step.where?.store ?? ""}
            store={(name) => change.store("store", name, "Name the mask")}
          />
        )}
      </MaskLayers>
      {catalogue?.steps.find((d) => d.key === step.step)?.rigid && (
        <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, mt: 0.5 }}>
          <Typography variant="body2" sx={{ alignSelf: "center" }}>
            Moves
          </Typography>
          <Select
            value={step.where?.moves ?? "natural"}
            onChange={(e) => change.store("moves", e.target.value, "What moves")}
            inputProps={{ "aria-label": "Moves" }}
            sx={{ maxWidth: 230 }}
          >
            {catalogue.moved.map((o) => (
              <MenuItem key={o.key} value={o.key}>
                {o.label}
              </MenuItem>
            ))}
          </Select>
        </Box>
      )}
    </Box>
  );
}

/** The name under which later steps find this mask. */
function StoreName({ name, store }: { name: string; store: (name: string) => void }) {
  const [text, setText] = useState(name);
  return (
    <TextField
      variant="standard"
      placeholder="store as…"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== name && store(text)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") (e.target as HTMLElement).blur();
      }}
      slotProps={{ htmlInput: { "aria-label": "Store the mask under a name", maxLength: 60 } }}
      sx={{ width: 110 }}
    />
  );
}
