import { useTheme } from "@mui/material";

/** A curve in small; flat and grey where nothing moves. */
export function Sparkline(props: { samples?: number[]; width?: number; height?: number }) {
  const { samples, width = 58, height = 16 } = props;
  const { palette } = useTheme();
  if (!samples || samples.length < 2) {
    return (
      <svg width={width} height={height} aria-hidden>
        <line x1={0} x2={width} y1={height / 2} y2={height / 2} stroke={palette.roles.line} />
      </svg>
    );
  }
  return (
    <svg width={width} height={height} aria-hidden>
      <path
        d={curve(samples, width, height, 2)}
        fill="none"
        stroke={palette.roles.when}
        strokeWidth={1.5}
      />
    </svg>
  );
}

/** An SVG path of samples, fitted into a box. */
export function curve(samples: number[], width: number, height: number, margin: number): string {
  const low = Math.min(...samples);
  const span = Math.max(...samples) - low || 1;
  return samples
    .map((v, k) => {
      const x = (k / (samples.length - 1)) * width;
      const y = height - margin - ((v - low) / span) * (height - 2 * margin);
      return `${k ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}
