import { Box, Typography, useTheme } from "@mui/material";
import type { FormulaPlotData } from "../../api/client";
import { outline } from "../../model/outline";
import { FIGURES } from "../theme";

const WIDTH = 240;
const HEIGHT = 46;

const figure = (v: number) => String(Number(v.toPrecision(3)));

/** A formula's result along the elements, in their order, at this frame. */
export function FormulaPlot({ plot, label }: { plot: FormulaPlotData; label: string }) {
  const { palette } = useTheme();
  if (!plot.low.length) return null;
  const least = Math.min(...plot.low);
  const most = Math.max(...plot.high);
  return (
    <Box sx={{ mt: 0.5 }}>
      <Box sx={{ display: "flex", gap: 0.75 }}>
        <Box
          component="svg"
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`${label} along ${plot.count} elements: from ${figure(least)} to ${figure(most)}`}
          sx={{ flex: 1, minWidth: 0, height: HEIGHT, bgcolor: "roles.quiet", borderRadius: 1 }}
        >
          <path
            d={outline(plot, WIDTH, HEIGHT)}
            fill={palette.roles.what}
            stroke={palette.roles.what}
            strokeWidth={0.6}
          />
        </Box>
        <Box
          sx={{
            display: "flex",
            flexDirection: "column",
            justifyContent: "space-between",
            fontFamily: FIGURES,
            fontSize: 10.5,
            color: "text.secondary",
          }}
        >
          <span>{figure(most)}</span>
          <span>{figure(least)}</span>
        </Box>
      </Box>
    </Box>
  );
}

/** How many elements the plot runs along, and how many of their results were undefined. */
export function FormulaCounts({ plot }: { plot: FormulaPlotData }) {
  return (
    <Typography variant="caption" color="textSecondary" component="p">
      {plot.count.toLocaleString("en")} {plot.count === 1 ? "element" : "elements"}
      {plot.undefined > 0 && (
        <Box component="span" sx={{ color: "warning.main" }}>
          {`; ${plot.undefined.toLocaleString("en")} undefined, taken as 0`}
        </Box>
      )}
    </Typography>
  );
}
