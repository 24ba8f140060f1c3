import { Box, Typography } from "@mui/material";
import type { ValueEntry } from "../../api/client";
import { Ruler } from "./Ruler";

interface Props {
  label: string;
  value: number;
  unit: string;
  soft: [number, number];
  scale?: "linear" | "log";
  /** Lowest value that may be typed. */
  least?: number;
  tone?: string;
  /** While it is dragged, and, without another way to store it, when that ends. */
  set: (value: number) => void;
  store?: (value: number) => void;
}

/** A number that is none of an entry's values: a setting of a tool, or of how something is carried. */
export function PlainRuler({ label, value, unit, soft, scale = "linear", ...more }: Props) {
  const { least = 1e-4, tone = "roles.where", set, store = set } = more;
  const entry: ValueEntry = {
    kind: "number",
    default: value,
    label,
    help: "",
    unit,
    soft,
    hard: unit === "%" ? [0, 100] : [least, 1e6],
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
          tone={tone}
          rate={24}
          onLive={set}
          onStore={store}
        />
        {/* As wide as the wave of values that can move, so that rulers stand in one column. */}
        <Box sx={{ width: 18, flex: "none" }} />
      </Box>
    </Box>
  );
}
