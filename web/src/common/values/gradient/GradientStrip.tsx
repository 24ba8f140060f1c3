import { Box } from "@mui/material";
import { useRef } from "react";
import type { OwnGradient } from "../../../api/document";
import { gradientCss, moved } from "../../../model/gradientStops";

const NUDGE = 0.01;

interface Props {
  gradient: OwnGradient;
  chosen: number;
  choose: (stop: number) => void;
  /** Asked where the strip is pressed between stops. */
  add: (at: number) => void;
  remove: (stop: number) => void;
  live: (gradient: OwnGradient) => void;
  store: (gradient: OwnGradient, label: string) => void;
}

/** The colours from left to right, with the stops under them to drag; a press on the colours adds
 * one there. */
export function GradientStrip(props: Props) {
  const { gradient, chosen } = props;
  const strip = useRef<HTMLDivElement>(null);
  const held = useRef<OwnGradient | null>(null);
  const place = (x: number) => {
    const box = strip.current!.getBoundingClientRect();
    return (x - box.left) / box.width;
  };
  return (
    <Box sx={{ px: 1, touchAction: "none" }}>
      <Box
        ref={strip}
        aria-hidden
        onClick={(e) => props.add(place(e.clientX))}
        sx={{
          height: 30,
          borderRadius: "6px",
          border: "1px solid",
          borderColor: "divider",
          background: gradientCss(gradient),
          cursor: "copy",
        }}
      />
      <Box sx={{ position: "relative", height: 20 }}>
        {gradient.stops.map((stop, k) => (
          <Box
            key={k}
            component="button"
            type="button"
            role="slider"
            aria-label={`Stop ${k + 1}`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(stop.at * 100)}
            aria-valuetext={`${Math.round(stop.at * 100)} %, ${stop.colour}`}
            data-chosen={k === chosen || undefined}
            onPointerDown={(e: React.PointerEvent<HTMLButtonElement>) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              e.currentTarget.focus();
              held.current = gradient;
              props.choose(k);
            }}
            onPointerMove={(e: React.PointerEvent) => {
              if (!held.current) return;
              held.current = moved(gradient, k, place(e.clientX));
              props.live(held.current);
            }}
            onPointerUp={() => {
              const made = held.current;
              held.current = null;
              if (made && made !== gradient) props.store(made, "Move a colour");
            }}
            onKeyDown={(e: React.KeyboardEvent) => {
              e.stopPropagation();
              const step = { ArrowLeft: -NUDGE, ArrowRight: NUDGE }[e.key];
              if (step) props.store(moved(gradient, k, stop.at + step), "Move a colour");
              if (e.key === "Delete" || e.key === "Backspace") props.remove(k);
            }}
            onFocus={() => props.choose(k)}
            sx={{
              position: "absolute",
              left: `${stop.at * 100}%`,
              top: 3,
              width: 14,
              height: 14,
              ml: "-7px",
              p: 0,
              borderRadius: "4px",
              border: "2px solid",
              borderColor: k === chosen ? "text.primary" : "background.paper",
              outline: "1px solid",
              outlineColor: k === chosen ? "text.primary" : "text.secondary",
              bgcolor: stop.colour,
              cursor: "ew-resize",
              touchAction: "none",
              zIndex: k === chosen ? 1 : 0,
              "&:focus-visible": { outlineWidth: 2, outlineOffset: 1 },
            }}
          />
        ))}
      </Box>
    </Box>
  );
}
