import { Box } from "@mui/material";
import type { CSSProperties, KeyboardEvent, PointerEvent } from "react";

interface Props {
  label: string;
  axis: "x" | "y";
  size: number;
  range: [number, number];
  style: CSSProperties;
  resize: (size: number) => void;
}

/** The edge between two regions: drag it, or move it by the arrow keys. */
export function Divider({ label, axis, size, range, style, resize }: Props) {
  const clamp = (value: number) => Math.min(range[1], Math.max(range[0], Math.round(value)));
  const drag = (event: PointerEvent<HTMLElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    // The strip grows upwards, the recipe to the right.
    resize(clamp(axis === "x" ? event.clientX : window.innerHeight - event.clientY));
  };
  const nudge = (event: KeyboardEvent) => {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    resize(clamp(size + 16 * way));
  };
  return (
    <Box
      role="separator"
      tabIndex={0}
      aria-label={label}
      aria-orientation={axis === "x" ? "vertical" : "horizontal"}
      aria-valuenow={size}
      aria-valuemin={range[0]}
      aria-valuemax={range[1]}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={drag}
      onKeyDown={nudge}
      style={style}
      sx={{
        position: "absolute",
        zIndex: 3,
        touchAction: "none",
        cursor: axis === "x" ? "col-resize" : "row-resize",
        "&:hover, &:focus-visible": { bgcolor: "roles.what", opacity: 0.35, outline: "none" },
      }}
    />
  );
}
