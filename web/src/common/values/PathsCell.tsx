import GestureOutlined from "@mui/icons-material/GestureOutlined";
import { Box, Button, Typography } from "@mui/material";
import { useEffect } from "react";
import type { DocValue } from "../../api/document";
import type { DrawnPath } from "../../model/drawnPaths";
import { useParts } from "../store/store";

interface Props {
  value: DocValue;
  store: (value: DocValue, label?: string) => void;
}

/** Paths that are drawn on the stage: how many there are, and the way to draw. */
export function PathsCell({ value, store }: Props) {
  const { drawing, view, set, look } = useParts("drawing", "view", "set", "look");
  const paths = value as unknown as DrawnPath[];
  const knots = paths.reduce((sum, p) => sum + p.knots.length, 0);
  useEffect(() => () => set({ drawing: false }), [set]);
  return (
    <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: 0.75, py: 0.25 }}>
      <Button
        variant={drawing ? "contained" : "outlined"}
        startIcon={<GestureOutlined />}
        aria-pressed={drawing}
        onClick={() => {
          set({ drawing: !drawing });
          if (!drawing && view.name !== "front") look("front");
        }}
        sx={{ py: 0 }}
      >
        {drawing ? "Drawing" : "Draw"}
      </Button>
      <Button
        disabled={paths.length === 0}
        onClick={() => store([] as unknown as DocValue, "Clear the drawing")}
        sx={{ py: 0, color: "text.secondary" }}
      >
        Clear
      </Button>
      <Typography variant="caption" color="textSecondary">
        {drawing
          ? "Click or drag on the stage; the first knot closes a path, Enter ends it."
          : `${paths.length} ${paths.length === 1 ? "path" : "paths"}, ${knots} knots. Drag a knot; a double click removes it.`}
      </Typography>
    </Box>
  );
}
