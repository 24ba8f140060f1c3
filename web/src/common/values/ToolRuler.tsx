import { Box, Typography } from "@mui/material";
import type { ValueEntry } from "../../api/client";
import { Ruler } from "./Ruler";

interface Props {
  label: string;
  value: number;
  unit: string;
  soft: [number, number];
  scale?: "linear" | "log";
  set: (value: number) => void;
}

/** A setting of a tool, which belongs to nobody's study. */
export function ToolRuler({ label, value, unit, soft, scale = "linear", set }: Props) {
  const entry: ValueEntry = {
    kind: "number",
    default: value,
    label,
    help: "",
    unit,
    soft,
    hard: unit === "%" ? [0, 100] : [1e-4, 1e6],
    scale,
    options: [],
    shown_when: null,
    mentioned_in: [],
    known: [],
    draft: false,
    begins: null,
    main: true,
    moves: false,
    each: false,
    by_values: null,
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
      <Typography variant="body2">{label}</Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0 }}>
        <Ruler
          entry={entry}
          label={label}
          value={value}
          tone="roles.where"
          rate={24}
          onLive={set}
          onStore={set}
        />
        {/* As wide as the wave of values that can move, so that rulers stand in one column. */}
        <Box sx={{ width: 18, flex: "none" }} />
      </Box>
    </Box>
  );
}
