import { Box, Button, Typography } from "@mui/material";
import { useParts } from "../common/store/store";
import type { OwnLane } from "./ownLanes";
import { PlainButton } from "../common/PlainButton";

/** How high the strip is at least while a curve is open in it. */

/** The lanes by name, of which one is open as a curve. */
export function LaneNames({ lanes }: { lanes: OwnLane[] }) {
  const { curve, set } = useParts("curve", "set");
  return (
    <Box sx={{ borderRight: "1px solid", borderColor: "divider", overflowY: "auto", py: 0.5 }}>
      {lanes.map(({ path, number, lane, signal }) => (
        <PlainButton
          key={path}
          disabled={!signal?.keys}
          aria-pressed={path === curve}
          onClick={() => set({ curve: path })}
          sx={{
            display: "block",
            boxSizing: "border-box",
            width: "100%",
            px: 1.5,
            py: 0.25,
            cursor: signal?.keys ? "pointer" : "default",
            opacity: signal?.keys ? 1 : 0.55,
            bgcolor: path === curve ? "roles.quiet" : "transparent",
            "&:focus-visible": { outline: "2px solid", outlineOffset: -2 },
          }}
        >
          <Typography variant="body2" noWrap title={`${lane.label}, ${lane.signal}`}>
            <b>{number}</b> {lane.label}
          </Typography>
        </PlainButton>
      ))}
    </Box>
  );
}

/** The way to the curves and back. */
export function StripFoot({ lanes }: { lanes: OwnLane[] }) {
  const { curve, set } = useParts("curve", "set");
  const keyed = lanes.find((l) => l.signal?.keys);
  const open = lanes.some((l) => l.path === curve && l.signal?.keys);
  if (!keyed) return null;
  return (
    <Box sx={{ display: "flex", justifyContent: "flex-end", px: 1 }}>
      <Button
        onClick={() => (open ? set({ curve: null }) : set({ curve: keyed.path }))}
        sx={{ py: 0, color: "text.secondary" }}
      >
        {open ? "Back to lanes" : "Open as curves"}
      </Button>
    </Box>
  );
}
