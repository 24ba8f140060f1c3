import { Box, Button } from "@mui/material";
import { useParts, type View } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { isFlat, useFlat } from "./flatView";
import { LEGEND } from "./legend";
import { panesOf, roundBelow } from "./panes";

const NAMES: Record<View, string> = {
  perspective: "Perspective",
  camera: "Camera",
  front: "Front",
  side: "Side",
  top: "Top",
};
const WIDEST_PX = 110;

function length(metres: number): string {
  if (metres >= 1) return `${metres} m`;
  return metres >= 0.01
    ? `${Math.round(metres * 100)} cm`
    : `${+(metres * 1000).toPrecision(1)} mm`;
}

/** A length as it is seen in the flat views. */
function Scale() {
  const perPixel = useFlat((s) => s.perPixel);
  const metres = roundBelow(WIDEST_PX * perPixel);
  return (
    <Box
      role="img"
      aria-label={`Scale: ${length(metres)}`}
      sx={{ display: "inline-flex", alignItems: "center", gap: 0.75, fontFamily: FIGURES }}
    >
      <Box
        sx={{
          width: metres / perPixel,
          height: 5,
          border: "1px solid currentColor",
          borderTop: 0,
          opacity: 0.8,
        }}
      />
      {length(metres)}
    </Box>
  );
}

/** Names of the views, their scale, and lines between them. */
export function PaneLabels() {
  const { view, four, set } = useParts("view", "four", "set");
  const panes = panesOf(view.name, four);
  if (!four && !isFlat(view.name)) return null;
  return (
    <>
      {four && (
        <>
          <Box sx={{ ...LINE, left: "50%", top: 0, bottom: 0, width: "1px" }} />
          <Box sx={{ ...LINE, top: "50%", left: 0, right: 0, height: "1px" }} />
        </>
      )}
      {panes.map((pane, k) => (
        <Box
          key={pane.view}
          sx={{
            position: "absolute",
            right: `${100 * (1 - pane.left - pane.width)}%`,
            bottom: `${100 * (1 - pane.top - pane.height)}%`,
            mr: 2,
            mb: 1.25,
            display: "flex",
            alignItems: "center",
            gap: 1.5,
            ...LEGEND,
          }}
        >
          {/* All flat views have the same scale. */}
          {k === panes.length - 1 && <Scale />}
          {four ? (
            <Button
              size="small"
              title="Only this view"
              onClick={() => set({ four: false, view: { ...view, name: pane.view } })}
              sx={{ color: "inherit", font: "inherit", minWidth: 0, p: 0 }}
            >
              {NAMES[pane.view]}
            </Button>
          ) : (
            NAMES[pane.view]
          )}
        </Box>
      ))}
    </>
  );
}

const LINE = { position: "absolute", background: "#ffffff2b", pointerEvents: "none" } as const;
