import AdsClickOutlined from "@mui/icons-material/AdsClickOutlined";
import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  ListSubheader,
  Menu,
  MenuItem,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useContext, useEffect, useState } from "react";
import { client, unwrap, type Schemas } from "../../api/client";
import type { DocValue } from "../../api/document";
import type { Domain } from "../../model/tableState";
import { useInterface, useParts } from "../store/store";
import { StepPlace } from "./stepPlace";

type Selection = Schemas["PickBody"]["selection"];

/** How far what faces a direction may be turned from it, °. */
const WITHIN = 40;
const facing = (direction: number[]): Selection => ({ by: "facing", direction, angle: WITHIN });
const sized = (share: number, largest: boolean): Selection => ({ by: "size", share, largest });

/** Ways to pick without the stage, by what they go by. */
const CHOICES: [string, [string, Selection][]][] = [
  [
    "What faces",
    [
      ["Up", facing([0, 1, 0])],
      ["Down", facing([0, -1, 0])],
      ["To the front", facing([0, 0, 1])],
      ["To the back", facing([0, 0, -1])],
      ["To the right", facing([1, 0, 0])],
      ["To the left", facing([-1, 0, 0])],
    ],
  ],
  [
    "By size",
    [
      ["The largest tenth", sized(0.1, true)],
      ["The larger half", sized(0.5, true)],
      ["The smaller half", sized(0.5, false)],
      ["The smallest tenth", sized(0.1, false)],
    ],
  ],
  [
    "From what is picked",
    [
      ["Their neighbours too", { by: "grow", times: 1 }],
      ["Without their rim", { by: "grow", times: -1 }],
      ["All others instead", { by: "others" }],
    ],
  ],
];
/** Which of these need something that is picked. */
const FROM_PICKED = CHOICES[2][0];

const DOMAINS: Record<string, Domain> = {
  points: "point",
  faces: "face",
  shards: "shard",
  copies: "copy",
};

interface Props {
  value: DocValue;
  store: (value: DocValue, label?: string) => void;
}

/** Elements picked on the stage: by click and box there, in other ways here. */
export function PickedCell({ value, store }: Props) {
  const { tool, pick, numbered, set } = useParts("tool", "pick", "numbered", "set");
  const place = useContext(StepPlace);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const runs = value as unknown as [number, number][];
  const count = runs.reduce((sum, [, many]) => sum + many, 0);
  const active = tool === "pick";
  useEffect(() => {
    if (!active) set({ numbered: null });
  }, [active, set]);
  const of = place?.of ?? "faces";
  const domain = DOMAINS[of];
  const choose = async (label: string, selection: Selection) => {
    setAnchor(null);
    const { frame, quality, say } = useInterface.getState();
    if (!place) return;
    try {
      const { picked } = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/pick", {
          params: { path: { study_id: place.study, piece_id: place.piece } },
          body: {
            step: place.step,
            of: of as Schemas["PickBody"]["of"],
            selection,
            how: pick.how,
            picked: runs,
            frame,
            quality,
          },
        }),
      );
      store(picked as unknown as DocValue, `Pick: ${label.toLowerCase()}`);
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
          Choose ▾
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
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            columnGap: 1,
            alignItems: "center",
            mt: 0.5,
            whiteSpace: "nowrap",
          }}
        >
          <ToggleButtonGroup
            exclusive
            size="small"
            value={pick.how}
            aria-label="What a pick does"
            onChange={(_, how: "add" | "remove" | null) => how && set({ pick: { ...pick, how } })}
            sx={{
              "& .MuiToggleButton-root": {
                textTransform: "none",
                whiteSpace: "nowrap",
                py: 0,
                px: 1.25,
              },
            }}
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
          {domain && (
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={numbered === domain}
                  onChange={(e) => set({ numbered: e.target.checked ? domain : null })}
                />
              }
              label={<Typography variant="caption">numbers</Typography>}
            />
          )}
        </Box>
      )}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {CHOICES.flatMap(([title, ways]) => [
          <ListSubheader key={title} sx={{ lineHeight: 2.2 }}>
            {title}
          </ListSubheader>,
          ...ways.map(([label, selection]) => (
            <MenuItem
              key={label}
              dense
              disabled={title === FROM_PICKED && count === 0}
              onClick={() => void choose(label, selection)}
            >
              {label}
            </MenuItem>
          )),
        ])}
      </Menu>
    </Box>
  );
}
