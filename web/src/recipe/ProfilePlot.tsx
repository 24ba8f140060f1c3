import { Box, useTheme } from "@mui/material";
import { profileOf, type Knot } from "../model/hermite";

interface Props {
  profile: string;
  power: number;
  invert: boolean;
  curve: Knot[];
}

const SHAPES: Record<string, (t: number, props: Props) => number> = {
  hard: (t) => (t >= 0.5 ? 1 : 0),
  linear: (t) => t,
  smooth: (t) => t * t * (3 - 2 * t),
  smoother: (t) => t * t * t * (t * (t * 6 - 15) + 10),
  power: (t, { power }) => Math.pow(t, power),
  curve: (t, { curve }) => profileOf(curve)(t),
};

/** How a layer's weight goes from its outside to its inside. */
export function ProfilePlot(props: Props) {
  const { palette } = useTheme();
  const shape = SHAPES[props.profile] ?? SHAPES.linear;
  const points = Array.from({ length: 61 }, (_, k) => {
    const t = (k - 10) / 40;
    const inside = Math.min(1, Math.max(0, t));
    const w = shape(inside, props);
    const y = 25 - (props.invert ? 1 - w : w) * 22;
    return `${(k / 60) * 220} ${y}`;
  });
  return (
    <Box
      component="svg"
      viewBox="0 0 220 28"
      role="img"
      aria-label={`Profile: ${props.profile}${props.invert ? ", inverted" : ""}`}
      sx={{ width: "100%", height: 28, display: "block", my: 0.5 }}
    >
      <path d={`M0 26L${points.join("L")}L220 26Z`} fill={palette.roles.where} fillOpacity={0.16} />
      <path d={`M${points.join("L")}`} fill="none" stroke={palette.roles.where} strokeWidth={1.4} />
    </Box>
  );
}
