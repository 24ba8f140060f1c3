import { Box, Slider } from "@mui/material";
import { memo } from "react";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { readyRuns } from "./readyRuns";
import { SCRUBBED, useScrub } from "./useScrub";

interface RunsProps {
  frames: number;
  of: "ready" | "pictures";
}

/** The frames that are ready to be drawn, or of which pictures are kept. */
const Runs = memo(function Runs({ frames, of }: RunsProps) {
  const known = useInterface((s) => s[of]);
  const look = of === "ready" ? { opacity: 0.4, height: 4 } : { opacity: 1, height: 2, top: 1 };
  return (
    <Box aria-hidden sx={{ position: "absolute", left: 0, right: 0, top: 7, height: 4 }}>
      {readyRuns(known, frames).map(([from, to]) => (
        <Box
          key={from}
          {...{ [`data-${of}`]: from }}
          sx={{ position: "absolute", bgcolor: "roles.when", ...look }}
          style={{ left: `${(from / frames) * 100}%`, width: `${((to - from) / frames) * 100}%` }}
        />
      ))}
    </Box>
  );
});

/** Which frames play, under the lanes and as wide as they are. */
export function RangeBar({ frames }: { frames: number }) {
  const range = useInterface((s) => s.range);
  const set = useInterface((s) => s.set);
  const last = Math.max(frames - 1, 1);
  const shown: [number, number] = range
    ? [Math.min(range[0], last), Math.min(range[1], last)]
    : [0, last];
  const scrub = useScrub(frames);
  const whole = shown[0] === 0 && shown[1] >= last;
  const marks = [0, 0.25, 0.5, 0.75, 1].map((share) => Math.round(share * frames));
  return (
    <Box sx={{ ml: "166px", mr: "16px", position: "relative", pt: "2px" }}>
      <Runs frames={frames} of="ready" />
      <Runs frames={frames} of="pictures" />
      <Slider
        value={shown}
        min={0}
        max={last}
        disableSwap
        size="small"
        valueLabelDisplay="auto"
        onChange={(_, next) => {
          const [a, b] = next as number[];
          set({ range: a === 0 && b >= last ? null : [a, b] });
        }}
        onDoubleClick={() => set({ range: null })}
        getAriaLabel={(k) => (k ? "Play to" : "Play from")}
        sx={{
          display: "block",
          p: "5px 0 !important",
          height: 4,
          color: whole ? "text.secondary" : "roles.when",
          "& .MuiSlider-thumb": {
            width: 7,
            height: 13,
            borderRadius: "2px",
            boxShadow: "none",
            opacity: whole ? 0.55 : 1,
            "&:hover, &.Mui-focusVisible": { opacity: 1 },
          },
          "& .MuiSlider-track": { opacity: whole ? 0 : 0.9, border: 0 },
          "& .MuiSlider-rail": { opacity: 0.2 },
          "& .MuiSlider-valueLabel": { fontFamily: FIGURES, fontSize: 11, py: 0.25, px: 0.75 },
        }}
      />
      <Box
        {...scrub}
        data-testid="frame-axis"
        sx={{
          ...SCRUBBED,
          display: "flex",
          justifyContent: "space-between",
          // The figures reach beyond the ends; the part that is pressed is as wide as the loop.
          "& > span": { width: 0, display: "flex", justifyContent: "center" },
          fontFamily: FIGURES,
          fontSize: 11,
          lineHeight: "14px",
          color: "text.secondary",
        }}
      >
        {marks.map((m, k) => (
          <span key={k}>{m}</span>
        ))}
      </Box>
    </Box>
  );
}
