import PushPinOutlined from "@mui/icons-material/PushPinOutlined";
import { Box, Button, Typography } from "@mui/material";
import { useEffect } from "react";
import type { DocValue } from "../../api/document";
import { useParts } from "../store/store";

interface Props {
  value: DocValue;
  store: (value: DocValue, label?: string) => void;
}

/** Places that are clicked on the stage: how many there are, and the way to click. */
export function PlacesCell({ value, store }: Props) {
  const { tool, set } = useParts("tool", "set");
  const count = (value as unknown as unknown[]).length;
  const active = tool === "place";
  useEffect(() => () => set({ tool: null }), [set]);
  return (
    <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: 0.75, py: 0.25 }}>
      <Button
        variant={active ? "contained" : "outlined"}
        startIcon={<PushPinOutlined />}
        aria-pressed={active}
        onClick={() => set({ tool: active ? null : "place" })}
        sx={{ py: 0 }}
      >
        {active ? "Clicking" : "Click"}
      </Button>
      <Button
        disabled={count === 0}
        onClick={() => store([] as unknown as DocValue, "Clear the places")}
        sx={{ py: 0, color: "text.secondary" }}
      >
        Clear
      </Button>
      <Typography variant="caption" color="textSecondary">
        {count === 0
          ? "Nothing is clicked yet."
          : `${count.toLocaleString("en")} ${count === 1 ? "place" : "places"}`}
      </Typography>
    </Box>
  );
}
