import AdsClickOutlined from "@mui/icons-material/AdsClickOutlined";
import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Menu,
  MenuItem,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useContext, useState } from "react";
import { client, unwrap, type Schemas, type StudyState } from "../../api/client";
import { type DocValue, documentOf } from "../../api/document";
import { useInterface, useParts } from "../store/store";
import { StepPlace } from "./stepPlace";

const WAYS: [string, number[]][] = [
  ["Up", [0, 1, 0]],
  ["Down", [0, -1, 0]],
  ["To the front", [0, 0, 1]],
  ["To the back", [0, 0, -1]],
  ["To the right", [1, 0, 0]],
  ["To the left", [-1, 0, 0]],
];
/** How far what faces a direction may be turned from it, °. */
const WITHIN = 40;

interface Props {
  value: DocValue;
  store: (value: DocValue, label?: string) => void;
}

/** Elements picked on the stage: by click and box there, by direction here. */
export function PickedCell({ value, store }: Props) {
  const { tool, pick, set } = useParts("tool", "pick", "set");
  const place = useContext(StepPlace);
  const queries = useQueryClient();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const runs = value as unknown as [number, number][];
  const count = runs.reduce((sum, [, many]) => sum + many, 0);
  const active = tool === "pick";
  const of = () => {
    const state = place && queries.getQueryData<StudyState>(["study", place.study]);
    if (!state) return "faces";
    const step = documentOf(state)
      .pieces.find((p) => p.id === place.piece)
      ?.recipe.find((s) => s.id === place.step);
    const layer = step?.where?.layers?.find((l) => l.id === place.layer);
    return String(layer?.values?.of ?? "faces");
  };
  const facing = async (direction: number[]) => {
    setAnchor(null);
    const { frame, quality, say } = useInterface.getState();
    if (!place) return;
    try {
      const { picked } = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/pick", {
          params: { path: { study_id: place.study, piece_id: place.piece } },
          body: {
            step: place.step,
            of: of() as Schemas["PickBody"]["of"],
            selection: { by: "facing", direction, angle: WITHIN },
            how: pick.how,
            picked: runs,
            frame,
            quality,
          },
        }),
      );
      store(picked as unknown as DocValue, "Pick by direction");
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  return (
    <Box sx={{ py: 0.25, flex: 1, minWidth: 0 }}>
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", alignItems: "center" }}>
        <Button
          variant={active ? "contained" : "outlined"}
          startIcon={<AdsClickOutlined />}
          aria-pressed={active}
          onClick={() => set({ tool: active ? null : "pick" })}
          sx={{ py: 0 }}
        >
          {active ? "Picking" : "Pick"}
        </Button>
        <Button aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)} sx={{ py: 0 }}>
          Facing ▾
        </Button>
        <Button
          disabled={count === 0}
          onClick={() => store([] as unknown as DocValue, "Pick none")}
          sx={{ py: 0, color: "text.secondary" }}
        >
          None
        </Button>
        <Typography variant="caption" color="textSecondary">
          {count === 0 ? "Nothing is picked yet." : `${count.toLocaleString("en")} picked`}
        </Typography>
      </Box>
      {active && (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", mt: 0.5 }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={pick.how}
            aria-label="What a pick does"
            onChange={(_, how: "add" | "remove" | null) => how && set({ pick: { ...pick, how } })}
            sx={{ "& .MuiToggleButton-root": { textTransform: "none", py: 0, px: 1.25 } }}
          >
            <ToggleButton value="add">add</ToggleButton>
            <ToggleButton value="remove">take away</ToggleButton>
          </ToggleButtonGroup>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={pick.through}
                onChange={(e) => set({ pick: { ...pick, through: e.target.checked } })}
              />
            }
            label={<Typography variant="caption">the far side too</Typography>}
          />
        </Box>
      )}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {WAYS.map(([label, direction]) => (
          <MenuItem key={label} onClick={() => void facing(direction)}>
            {label}
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
