import { Box, ListSubheader, MenuItem, Select, Typography } from "@mui/material";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import type { Layer, Piece, Step } from "../api/document";
import { documentOf, useCatalogue } from "../api/queries";
import { useInterface } from "../state/store";
import { layerPlace, placeAt } from "./carrierPlaces";
import { useChange } from "./useStep";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  layer: Layer;
}

interface Carried {
  by: "piece" | "layer";
  id: string;
}

/** What a layer travels with; it keeps its present place when it is attached. */
export function CarriedRow({ state, piece, step, layer }: Props) {
  const catalogue = useCatalogue().data;
  const change = useChange(
    state.id,
    `/pieces/${piece.id}/recipe/${step.id}/where/layers/${layer.id}`,
  );
  const carried = (layer.carried ?? null) as Carried | null;
  const pieces = documentOf(state).pieces.filter((p) => p.id !== piece.id);
  const layers = (step.where?.layers ?? []).filter((l) => l.id !== layer.id);
  if (!catalogue || (pieces.length === 0 && layers.length === 0)) return null;
  const title = (l: Layer) => catalogue.layers.find((d) => d.key === l.layer)?.title ?? l.layer;
  const attach = (chosen: string) => {
    if (!chosen) return change.store("carried", null, "Let the layer go");
    const [by, id] = chosen.split("/") as ["piece" | "layer", string];
    const { frame } = useInterface.getState();
    let start: THREE.Matrix4;
    if (by === "layer") {
      start = layerPlace(
        state,
        piece,
        step,
        layers.find((l) => l.id === id)!,
        catalogue,
        frame,
      );
    } else {
      start = placeAt(state, id, frame);
      const inSpace = layer.values?.measured === "space" || layer.values?.sampled === "space";
      if (!inSpace) start.premultiply(placeAt(state, piece.id, frame).invert());
    }
    const rows = start.clone().transpose().toArray();
    change.store(
      "carried",
      { by, id, start: rows.map((v) => Math.round(v * 1e6) / 1e6) },
      "Attach",
    );
  };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, minHeight: 27 }}>
      <Typography variant="body2" sx={{ alignSelf: "center" }}>
        Carried by
      </Typography>
      <Select
        value={carried ? `${carried.by}/${carried.id}` : ""}
        displayEmpty
        onChange={(e) => attach(e.target.value)}
        inputProps={{ "aria-label": "Carried by" }}
        sx={{ maxWidth: 210 }}
      >
        <MenuItem value="">nothing</MenuItem>
        {pieces.length > 0 && <ListSubheader>Pieces</ListSubheader>}
        {pieces.map((p) => (
          <MenuItem key={p.id} value={`piece/${p.id}`}>
            {p.name}
          </MenuItem>
        ))}
        {layers.length > 0 && <ListSubheader>Layers of this mask</ListSubheader>}
        {layers.map((l) => (
          <MenuItem key={l.id} value={`layer/${l.id}`}>
            {title(l)}
          </MenuItem>
        ))}
        {carried?.by === "piece" && !pieces.some((p) => p.id === carried.id) && (
          <MenuItem value={`piece/${carried.id}`}>a piece that is gone</MenuItem>
        )}
      </Select>
    </Box>
  );
}
