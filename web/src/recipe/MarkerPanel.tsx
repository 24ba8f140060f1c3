import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import MyLocation from "@mui/icons-material/MyLocationOutlined";
import { Box, Button, IconButton, MenuItem, Select, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { type Marker, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { PlainName } from "../common/PlainName";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { carriedIn, carriersFor, type CarriedThing } from "../model/carrying";
import { PlaceEditor } from "./PlaceEditor";
import { useAttach } from "../common/useAttach";

/** A marker in the recipe's place: where it stands, what moves it, and what it carries. */
export function MarkerPanel({ state, marker }: { state: StudyState; marker: Marker }) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const base = `/markers/${marker.id}`;
  const change = useChange(state.id, base);
  const { remove } = useAttach(state.id);
  const lanes = state.markers.find((m) => m.id === marker.id)?.lanes ?? [];
  if (!catalogue) return null;
  return (
    <Box sx={{ px: 2, py: 1.5 }} data-marker={marker.id}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1 }}>
        <MyLocation sx={{ fontSize: 18, color: "roles.what" }} />
        <PlainName
          name={marker.name}
          label="Name of the marker"
          store={(name) => change.store("name", name, "Name the marker")}
        />
        <IconButton
          aria-label={`Remove ${marker.name}`}
          onClick={() => {
            void remove(base, "Remove marker").then(() => set({ marker: null }));
          }}
        >
          <DeleteOutline sx={{ fontSize: 18 }} />
        </IconButton>
      </Box>
      <PlaceEditor
        state={state}
        base={base}
        holder={marker}
        entries={catalogue.marker_values}
        lanes={lanes}
      >
        <Carries state={state} marker={marker} />
        {lanes.length > 0 && (
          <Typography variant="overline" component="h3" sx={{ color: "roles.when", mt: 1.5 }}>
            <span aria-hidden>∿</span> When
          </Typography>
        )}
      </PlaceEditor>
    </Box>
  );
}

function Carries({ state, marker }: { state: StudyState; marker: Marker }) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const { attach } = useAttach(state.id);
  const document = documentOf(state);
  const things = carriedIn(document).filter(
    (t) => t.carried.by === "marker" && t.carried.id === marker.id,
  );
  const title = (thing: CarriedThing) => {
    const piece = document.pieces.find((p) => p.id === thing.piece);
    const step = piece?.recipe.find((s) => s.id === thing.step);
    const layer = step?.where?.layers?.find((l) => l.id === thing.layer);
    const named = [
      piece?.name ??
        document.markers?.find((m) => m.id === thing.marker)?.name ??
        document.lights?.find((l) => l.id === thing.light)?.name,
      step && (catalogue?.steps.find((d) => d.key === step.step)?.title ?? step.step),
      layer && (catalogue?.layers.find((d) => d.key === layer.layer)?.title ?? layer.layer),
    ];
    return named.filter(Boolean).join(" · ");
  };
  const go = (t: CarriedThing) => {
    if (t.marker) return set({ marker: t.marker });
    if (t.light) return set({ sheet: "light", light: t.light });
    set({
      piece: t.piece,
      step: t.step ?? null,
      layer: t.layer ?? null,
      ribbon: t.layer ? "where" : "what",
      marker: null,
    });
  };
  const free = document.pieces.filter(
    (p) =>
      !things.some((t) => t.address === `/pieces/${p.id}`) &&
      carriersFor(document, `/pieces/${p.id}`).markers.some((m) => m.id === marker.id),
  );
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        Carries
      </Typography>
      {things.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ my: 0.5 }}>
          Nothing yet. A piece, a step with a place or a mask layer goes where its marker goes and
          turns as it turns; choose it here, or “carried by” where it stands.
        </Typography>
      )}
      {things.map((thing) => (
        <Box key={thing.address} sx={{ display: "flex", alignItems: "center" }}>
          <Button onClick={() => go(thing)} sx={{ px: 0.5, minWidth: 0 }}>
            {title(thing)}
          </Button>
          <Box sx={{ flex: 1 }} />
          <Button
            color="inherit"
            onClick={() => void attach(thing.address, null, "Let go")}
            sx={{ color: "text.secondary" }}
          >
            Let go
          </Button>
        </Box>
      ))}
      {free.length > 0 && (
        <Select
          value=""
          displayEmpty
          onChange={(e) =>
            void attach(`/pieces/${e.target.value}`, { by: "marker", id: marker.id }, "Attach")
          }
          inputProps={{ "aria-label": "Carry a piece" }}
          sx={{ mt: 0.5, maxWidth: 240, color: "text.secondary" }}
        >
          <MenuItem value="" disabled>
            carry a piece…
          </MenuItem>
          {free.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
        </Select>
      )}
    </Box>
  );
}
