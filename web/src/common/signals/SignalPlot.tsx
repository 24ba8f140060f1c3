import { Box, useTheme } from "@mui/material";
import type { Lane } from "../../api/client";
import { laneShape } from "../../model/laneShape";
import { withUnit } from "../../model/parse";

const WIDTH = 260;
const HEIGHT = 44;

/** A signal over the loop: its curve, that of the last element, and the sound that it follows. */
export function SignalPlot({ lane, share }: { lane: Lane; share: number }) {
  const { palette } = useTheme();
  const shape = laneShape(lane, WIDTH, HEIGHT, 5);
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={`${lane.label} over the loop, from ${withUnit(shape.low, lane.unit)} to ${withUnit(shape.high, lane.unit)}`}
      sx={{
        width: "100%",
        height: HEIGHT,
        display: "block",
        bgcolor: "background.default",
        my: 0.5,
      }}
    >
      {shape.wave && <path d={shape.wave} fill={palette.text.secondary} fillOpacity={0.28} />}
      {shape.band && <path d={shape.band} fill={palette.roles.when} fillOpacity={0.14} />}
      {shape.last && (
        <path
          d={shape.last}
          fill="none"
          stroke={palette.roles.when}
          strokeDasharray="3 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
      <path
        d={shape.line}
        fill="none"
        stroke={palette.roles.when}
        strokeWidth={1.6}
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={share * WIDTH}
        x2={share * WIDTH}
        y1={0}
        y2={HEIGHT}
        stroke={palette.text.primary}
        vectorEffect="non-scaling-stroke"
      />
    </Box>
  );
}
