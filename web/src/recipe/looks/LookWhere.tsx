import { Box, MenuItem, Select, Typography } from "@mui/material";
import { useCatalogue } from "../../api/queries";
import { useChange } from "../../common/useStep";
import { lookOwner } from "../../model/maskOwner";
import { MaskLayers } from "../MaskLayers";
import type { LookProps } from "./lookProps";

/** By which mask a look is blended over those before it. */
export function LookWhere({ state, piece, look, words, first }: LookProps & { first: boolean }) {
  const catalogue = useCatalogue().data;
  const owner = lookOwner(piece, look);
  const change = useChange(state.id, `${owner.at}/where`);
  if (first) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
        The first look is everywhere. Add a look below it to say where that one covers it.
      </Typography>
    );
  }
  return (
    <Box>
      {owner.layers.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
          It covers all looks above it. Add a layer to say where.
        </Typography>
      )}
      <MaskLayers state={state} piece={piece} owner={owner} lanes={words.lanes} />
      <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, mt: 0.5 }}>
        <Typography variant="body2" sx={{ alignSelf: "center" }}>
          Blended in
        </Typography>
        <Select
          value={look.where?.blended ?? "points"}
          onChange={(e) => change.store("blended", e.target.value, "How a look is blended in")}
          inputProps={{ "aria-label": "Blended in" }}
          sx={{ maxWidth: 230, justifySelf: "start" }}
        >
          {(catalogue?.blended ?? []).map((o) => (
            <MenuItem key={o.key} value={o.key}>
              {o.label}
            </MenuItem>
          ))}
        </Select>
      </Box>
    </Box>
  );
}
