import { useTheme } from "@mui/material";
import { useInterface } from "../common/store/store";

/** The playhead in a part of the strip that is as wide as the loop. */
export function Playhead({ frames }: { frames: number }) {
  const frame = useInterface((s) => s.frame);
  const { palette } = useTheme();
  return (
    <div
      style={{
        position: "absolute",
        inset: 0,
        pointerEvents: "none",
        transform: `translateX(${(frame / frames) * 100}%)`,
        borderLeft: `1px solid ${palette.text.primary}`,
        opacity: 0.6,
      }}
    />
  );
}
