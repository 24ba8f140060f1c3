import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import DragIndicator from "@mui/icons-material/DragIndicator";
import { Box, Checkbox, IconButton, MenuItem, Select, Typography } from "@mui/material";
import type { Lane, StudyState } from "../api/client";
import { loopOf, type DocValue, type Layer, type Piece, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { StepPlace } from "../common/values/stepPlace";
import type { Knot } from "../model/hermite";
import { layerName, type MaskOwner } from "../model/maskOwner";
import { CarriedRow } from "../common/CarriedRow";
import { ProfilePlot } from "./ProfilePlot";
import { ValueList } from "../common/values/ValueList";
import { PlainButton } from "../common/PlainButton";

interface Props {
  state: StudyState;
  piece: Piece;
  owner: MaskOwner;
  layer: Layer;
  lanes: Lane[];
  first: boolean;
  open: boolean;
}

/** One layer of a mask: how it blends, and, unfolded, where it lies and how it falls off. */
export function LayerCard({ state, piece, owner, layer, lanes, first, open }: Props) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const base = `${owner.at}/where/layers/${layer.id}`;
  const path = `${owner.below}where/layers/${layer.id}`;
  const own = useChange(state.id, `${base}/values`);
  const common = useChange(state.id, base);
  const sortable = useSortable({ id: layer.id });
  const entry = catalogue?.layers.find((d) => d.key === layer.layer);
  if (!catalogue || !entry) return null;
  const { frames, rate } = loopOf(documentOf(state));
  const { blend, ...falloff } = owner.inLook ? catalogue.look_layer_values : catalogue.layer_values;
  const shared = {
    lanes,
    tone: "roles.where",
    frames,
    rate,
    openSignal: () => set({ ribbon: "when" }),
  };
  return (
    <Box
      ref={sortable.setNodeRef}
      style={{
        transform: CSS.Translate.toString(sortable.transform),
        transition: sortable.transition,
      }}
      sx={{ borderBottom: "1px dotted", borderColor: "divider", py: 0.25 }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
        <Box
          {...sortable.attributes}
          {...sortable.listeners}
          aria-label={`Move layer ${entry.title}`}
          sx={{ cursor: "grab", display: "flex", color: "text.secondary" }}
        >
          <DragIndicator sx={{ fontSize: 15 }} />
        </Box>
        <Checkbox
          size="small"
          checked={layer.on !== false}
          onChange={(e) => common.store("on", e.target.checked, "Use or not use layer")}
          slotProps={{ input: { "aria-label": `Use layer ${entry.title}` } }}
          sx={{ p: 0.25 }}
        />
        <PlainButton
          aria-expanded={open}
          onClick={() => set({ layer: open ? null : layerName(owner, layer.id) })}
          sx={{ flex: 1, cursor: "pointer", minWidth: 0 }}
        >
          <Typography variant="body2" noWrap sx={{ fontWeight: open ? 600 : 400 }}>
            {entry.title}
          </Typography>
        </PlainButton>
        {!first && (
          <Select
            value={String(layer.blend ?? blend.default)}
            onChange={(e) => common.store("blend", e.target.value, "Blend layer")}
            inputProps={{ "aria-label": "Blend" }}
          >
            {blend.options.map((o) => (
              <MenuItem key={o.key} value={o.key}>
                {o.label}
              </MenuItem>
            ))}
          </Select>
        )}
        <IconButton
          aria-label={`Remove layer ${entry.title}`}
          onClick={() => common.edit("Remove mask layer", [{ do: "remove", path: base }])}
        >
          <DeleteOutline sx={{ fontSize: 16 }} />
        </IconButton>
      </Box>
      {open && (
        <StepPlace.Provider
          value={{
            study: state.id,
            piece: piece.id,
            step: owner.step,
            layer: layer.id,
            of: String(layer.values?.of ?? "faces"),
          }}
        >
          <Box sx={{ pl: 0.5, pb: 0.5 }}>
            <ValueList
              {...shared}
              entries={entry.values}
              given={layer.values ?? {}}
              path={`${path}/values`}
              at={`${base}/values`}
              live={own.live}
              store={own.store}
            />
            <ProfilePlot
              profile={String(layer.profile ?? "smooth")}
              power={typeof layer.power === "number" ? layer.power : 2}
              invert={Boolean(layer.invert)}
              curve={(layer.curve ?? catalogue.layer_values.curve.default) as Knot[]}
            />
            <ValueList
              {...shared}
              entries={falloff}
              given={layer as unknown as Record<string, DocValue>}
              path={path}
              at={base}
              live={common.live}
              store={common.store}
            />
            <CarriedRow
              state={state}
              address={base}
              carried={layer.carried}
              layers={owner.layers}
              layer={layer.id}
            />
          </Box>
        </StepPlace.Provider>
      )}
    </Box>
  );
}
