import {
  Box,
  Button,
  FormControlLabel,
  ListSubheader,
  MenuItem,
  Select,
  Switch,
  Typography,
} from "@mui/material";
import type { StudyState } from "../api/client";
import { type Carried, type Layer, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useChange } from "./useStep";
import { carriersFor, layersFor } from "../model/carrying";
import { useAttach } from "./useAttach";
import { PlainRuler } from "./values/PlainRuler";

interface Props {
  state: StudyState;
  /** Of a piece, a marker, a step or a mask layer. */
  address: string;
  carried: Carried | null | undefined;
  /** Of a mask: its layers, and which of them this is. */
  layers?: Layer[];
  layer?: string;
  /** It has a place of its own, which can be that of its carrier. */
  placed?: boolean;
  /** It can stick to a place of the surface of a piece. */
  sticks?: boolean;
}

/** Where it is carried from when it stands on its carrier itself: the unit matrix, row by row. */
const ON_IT = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** What something travels with; it keeps its present place when it is attached and let go. */
export function CarriedRow({
  state,
  address,
  carried,
  layers = [],
  layer = "",
  placed,
  sticks,
}: Props) {
  const catalogue = useCatalogue().data;
  const { attach } = useAttach(state.id);
  const change = useChange(state.id, address);
  const putOn = () => {
    const { by, id } = carried!;
    change.edit("Put it on its carrier", [
      { do: "set", path: `${address}/carried`, value: { by, id, start: ON_IT } as never },
      { do: "set", path: `${address}/place/move`, value: [0, 0, 0] as never },
      { do: "set", path: `${address}/place/turn`, value: [0, 0, 0] as never },
    ]);
  };
  const smoothOver = (smooth: number) =>
    void attach(
      address,
      { by: "piece", id: carried!.id },
      "Smooth what it feels of the surface",
      true,
      smooth,
    );
  const { pieces, markers, cameras } = carriersFor(documentOf(state), address);
  const others = layersFor(layers, layer);
  const title = (l: Layer) => catalogue?.layers.find((d) => d.key === l.layer)?.title ?? l.layer;
  const groups = [
    { by: "marker", head: "Markers", items: markers.map((m) => ({ id: m.id, name: m.name })) },
    { by: "piece", head: "Pieces", items: pieces.map((p) => ({ id: p.id, name: p.name })) },
    { by: "camera", head: "Cameras", items: cameras.map((c) => ({ id: c.id, name: c.name })) },
    {
      by: "layer",
      head: "Layers of this mask",
      items: others.map((l) => ({ id: l.id, name: title(l) })),
    },
  ].filter((group) => group.items.length > 0);
  const value = carried ? `${carried.by}/${carried.id}` : "";
  const known = groups.some((g) => g.items.some((i) => `${g.by}/${i.id}` === value));
  if (groups.length === 0 && !carried) return null;
  const choose = (chosen: string) => {
    const [by, id] = chosen.split("/");
    if (!chosen) void attach(address, null, "Let go");
    else void attach(address, { by: by as Carried["by"], id }, "Attach");
  };
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "84px 1fr",
        columnGap: 1,
        alignItems: "center",
        minHeight: 27,
      }}
    >
      <Typography variant="body2" component="span">
        Carried by
      </Typography>
      <Select
        value={value}
        displayEmpty
        onChange={(e) => choose(e.target.value)}
        inputProps={{ "aria-label": "Carried by" }}
        sx={{ maxWidth: 210, justifySelf: "start" }}
      >
        <MenuItem value="">nothing</MenuItem>
        {groups.flatMap(({ by, head, items }) => [
          <ListSubheader key={by}>{head}</ListSubheader>,
          ...items.map(({ id, name }) => (
            <MenuItem key={`${by}/${id}`} value={`${by}/${id}`}>
              {name}
            </MenuItem>
          )),
        ])}
        {carried && !known && <MenuItem value={value}>a {carried.by} that is gone</MenuItem>}
      </Select>
      {sticks && known && carried?.by === "piece" && (
        <FormControlLabel
          sx={{ gridColumn: 2, ml: 0, gap: 1 }}
          control={
            <Switch
              size="small"
              checked={Boolean(carried.at_rest)}
              onChange={(_, on) =>
                void attach(address, { by: "piece", id: carried.id }, on ? "Stick" : "Attach", on)
              }
            />
          }
          label="sticks to its surface"
          slotProps={{ typography: { variant: "body2" } }}
        />
      )}
      {sticks && carried?.at_rest && (
        <Box sx={{ gridColumn: "1 / 3" }}>
          <PlainRuler
            label="Smoothed"
            value={carried.smooth ?? 0}
            unit="m"
            soft={[0, 2]}
            least={0}
            tone="roles.what"
            set={() => undefined}
            store={smoothOver}
          />
        </Box>
      )}
      {placed && carried && known && (
        <Button onClick={putOn} sx={{ gridColumn: 2, justifySelf: "start", px: 0.5, py: 0 }}>
          Put it on its carrier
        </Button>
      )}
    </Box>
  );
}
