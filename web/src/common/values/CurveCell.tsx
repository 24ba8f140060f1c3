import { Box, useTheme } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { DocValue } from "../../api/document";
import { added, moved, removed } from "../../model/curveKnots";
import { profileOf, type Knot } from "../../model/hermite";

const WIDTH = 220;
const HEIGHT = 74;
const MARGIN = 7;

const toX = (x: number) => MARGIN + x * (WIDTH - 2 * MARGIN);
const toY = (y: number) => HEIGHT - MARGIN - y * (HEIGHT - 2 * MARGIN);

interface Props {
  label: string;
  value: DocValue;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
}

/** A profile to draw: knots are dragged; a double click adds one or takes one away. */
export function CurveCell({ label, value, live, store }: Props) {
  const { palette } = useTheme();
  const [drawn, setDrawn] = useState<Knot[]>(value as unknown as Knot[]);
  const held = useRef<number | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => {
    if (held.current === null) setDrawn(value as unknown as Knot[]);
  }, [value]);
  const shape = profileOf(drawn);
  const line = Array.from({ length: 81 }, (_, k) => `${toX(k / 80)} ${toY(shape(k / 80))}`);
  const place = (event: { clientX: number; clientY: number }): Knot => {
    const box = svg.current!.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * WIDTH;
    const y = ((event.clientY - box.top) / box.height) * HEIGHT;
    return [(x - MARGIN) / (WIDTH - 2 * MARGIN), (HEIGHT - MARGIN - y) / (HEIGHT - 2 * MARGIN)];
  };
  const keep = (next: Knot[], words: string) => {
    setDrawn(next);
    store(next as unknown as DocValue, words);
  };
  return (
    <Box
      component="svg"
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="group"
      aria-label={`${label}: ${drawn.length} knots`}
      sx={{
        width: "100%",
        maxWidth: 250,
        bgcolor: "roles.quiet",
        borderRadius: 1,
        touchAction: "none",
        my: 0.5,
      }}
      onDoubleClick={(e: React.MouseEvent) => keep(added(drawn, place(e)), "Add a knot")}
      onPointerMove={(e: React.PointerEvent) => {
        if (held.current === null) return;
        const next = moved(drawn, held.current, place(e));
        setDrawn(next);
        live(next as unknown as DocValue);
      }}
      onPointerUp={() => {
        if (held.current === null) return;
        held.current = null;
        store(drawn as unknown as DocValue, `Draw ${label.toLowerCase()}`);
      }}
    >
      <path
        d={`M${toX(0)} ${toY(0)}L${line.join("L")}L${toX(1)} ${toY(0)}Z`}
        fill={palette.roles.where}
        fillOpacity={0.16}
      />
      <path d={`M${line.join("L")}`} fill="none" stroke={palette.roles.where} strokeWidth={1.6} />
      {drawn.map(([x, y], k) => (
        <circle
          key={k}
          cx={toX(x)}
          cy={toY(y)}
          r={4.2}
          tabIndex={0}
          role="button"
          aria-label={`Knot ${k + 1} at ${Math.round(x * 100)} %, weight ${Math.round(y * 100)} %; arrows move it, Delete removes it`}
          fill={palette.roles.card}
          stroke={palette.roles.where}
          strokeWidth={2}
          style={{ cursor: "grab" }}
          onPointerDown={(e) => {
            e.stopPropagation();
            held.current = k;
            svg.current?.setPointerCapture(e.pointerId);
          }}
          onDoubleClick={(e) => {
            e.stopPropagation();
            keep(removed(drawn, k), "Remove a knot");
          }}
          onKeyDown={(e) => {
            const step = e.shiftKey ? 0.1 : 0.02;
            const [dx, dy] =
              {
                ArrowLeft: [-step, 0],
                ArrowRight: [step, 0],
                ArrowUp: [0, step],
                ArrowDown: [0, -step],
              }[e.key] ?? [];
            if (dx === undefined && e.key !== "Delete" && e.key !== "Backspace") return;
            e.preventDefault();
            e.stopPropagation();
            if (dx === undefined) keep(removed(drawn, k), "Remove a knot");
            else keep(moved(drawn, k, [x + dx, y + (dy ?? 0)]), "Move a knot");
          }}
        />
      ))}
    </Box>
  );
}
