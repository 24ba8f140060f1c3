import BrushOutlined from "@mui/icons-material/BrushOutlined";
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { DocValue } from "../../api/document";
import { useParts, type Brush } from "../store/store";
import { PlainRuler } from "./PlainRuler";

interface Props {
  value: DocValue;
  store: (value: DocValue, label?: string) => void;
}

/** A mask that is drawn on the stage: the brush, and how many strokes there are. */
export function StrokesCell({ value, store }: Props) {
  const { tool, brush, set } = useParts("tool", "brush", "set");
  const strokes = value as unknown as unknown[];
  const active = tool === "brush";
  const change = (part: Partial<Brush>) => set({ brush: { ...brush, ...part } });
  return (
    <Box sx={{ py: 0.25, flex: 1, minWidth: 0 }}>
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", alignItems: "center" }}>
        <Button
          variant={active ? "contained" : "outlined"}
          startIcon={<BrushOutlined />}
          aria-pressed={active}
          onClick={() => set({ tool: active ? null : "brush" })}
          sx={{ py: 0 }}
        >
          {active ? "Drawing" : "Draw"}
        </Button>
        <Button
          disabled={strokes.length === 0}
          onClick={() => store([] as unknown as DocValue, "Clear the mask")}
          sx={{ py: 0, color: "text.secondary" }}
        >
          Clear
        </Button>
        <Typography variant="caption" color="textSecondary">
          {strokes.length === 0
            ? "Nothing is drawn yet."
            : `${strokes.length} ${strokes.length === 1 ? "stroke" : "strokes"}`}
        </Typography>
      </Box>
      {active && (
        <Box sx={{ mt: 0.75 }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={brush.does}
            aria-label="What the brush does"
            onChange={(_, does: Brush["does"] | null) => does && change({ does })}
            sx={{ mb: 0.5, "& .MuiToggleButton-root": { textTransform: "none", py: 0, px: 1.25 } }}
          >
            <ToggleButton value="paint">paint</ToggleButton>
            <ToggleButton value="erase">erase</ToggleButton>
            <ToggleButton value="soften">soften</ToggleButton>
          </ToggleButtonGroup>
          <PlainRuler
            label="Size"
            value={brush.size ?? 0.1}
            unit="m"
            soft={[0.005, 2]}
            scale="log"
            set={(size) => change({ size })}
          />
          <PlainRuler
            label="Strength"
            value={brush.strength}
            unit="%"
            soft={[0, 100]}
            set={(strength) => change({ strength })}
          />
          <PlainRuler
            label="Softness"
            value={brush.softness}
            unit="%"
            soft={[0, 100]}
            set={(softness) => change({ softness })}
          />
        </Box>
      )}
    </Box>
  );
}
