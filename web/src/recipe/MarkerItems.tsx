import AddIcon from "@mui/icons-material/Add";
import MyLocation from "@mui/icons-material/MyLocationOutlined";
import { Box, ListSubheader, MenuItem, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { carriedIn } from "../model/carrying";
import { useAddMarker } from "./useAddMarker";

/** The markers of a study in the list of its pieces. */
export function markerItems({ state, close }: { state: StudyState; close: () => void }) {
  const document = documentOf(state);
  const markers = document.markers ?? [];
  const things = carriedIn(document);
  const carries = (id: string) =>
    things.filter((t) => t.carried.by === "marker" && t.carried.id === id).length;
  return [
    markers.length > 0 && <ListSubheader key="markers">Markers</ListSubheader>,
    ...markers.map((m) => (
      <MarkerItem key={m.id} id={m.id} name={m.name} carries={carries(m.id)} close={close} />
    )),
    <AddMarker key="add a marker" study={state.id} close={close} />,
  ];
}

interface ItemProps {
  id: string;
  name: string;
  carries: number;
  close: () => void;
}

function MarkerItem({ id, name, carries, close, ...menu }: ItemProps) {
  const chosen = useInterface((s) => s.marker);
  const set = useInterface((s) => s.set);
  return (
    <MenuItem
      {...menu}
      selected={id === chosen}
      onClick={() => {
        set({ marker: id });
        close();
      }}
      sx={{ gap: 1 }}
    >
      <MyLocation sx={{ fontSize: 15 }} />
      <Box sx={{ flex: 1 }}>{name}</Box>
      <Typography variant="caption" color="textSecondary">
        {carries ? `carries ${carries}` : "carries nothing"}
      </Typography>
    </MenuItem>
  );
}

function AddMarker({ study, close, ...menu }: { study: string; close: () => void }) {
  const add = useAddMarker(study);
  return (
    <MenuItem
      {...menu}
      onClick={() => {
        close();
        void add();
      }}
      sx={{ gap: 1 }}
    >
      <AddIcon fontSize="inherit" /> Add a marker
    </MenuItem>
  );
}
