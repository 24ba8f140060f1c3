import { Box } from "@mui/material";
import type { Heat } from "../common/useTable";
import { figure } from "../model/tableState";
import { LEGEND } from "./legend";

/** From which to which number the heat on the stage goes. */
export function HeatScale({ heat }: { heat: Heat }) {
  return (
    <Box
      role="img"
      aria-label={`Heat from ${figure(heat.low)} to ${figure(heat.high)}`}
      sx={{
        position: "absolute",
        right: 16,
        bottom: 10,
        display: "flex",
        alignItems: "center",
        gap: 1,
        ...LEGEND,
      }}
    >
      {figure(heat.low)}
      <Box
        sx={{
          width: 120,
          height: 8,
          borderRadius: 1,
          // The same way from dark to bright that the surface takes.
          background: "linear-gradient(90deg, #100d17, #8a4a0c 35%, #d98a1c 60%, #ffdb6b)",
        }}
      />
      {figure(heat.high)}
    </Box>
  );
}
