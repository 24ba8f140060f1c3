import { useTheme } from "@mui/material";
import { useRef, type PointerEvent } from "react";
import type { KeyPoint } from "../api/document";
import type { Tangent } from "../model/keyCurve";

interface Props {
  keys: KeyPoint[];
  tangents: Tangent[];
  chosen: ReadonlySet<number>;
  toX: (frame: number) => number;
  toY: (value: number) => number;
  place: (event: { clientX: number; clientY: number }) => { frame: number; value: number };
  show: (keys: KeyPoint[]) => void;
  end: () => void;
}

/** Handles of the tangents of chosen keys: both sides turn together, with Alt only one. */
export function Tangents({ keys, tangents, chosen, toX, toY, place, show, end }: Props) {
  const { palette } = useTheme();
  const held = useRef(false);
  const sides = (k: number): { side: "in" | "out"; reach: number }[] => {
    const smooth = (i: number) => i >= 0 && (keys[i]?.ease ?? "smooth") === "smooth";
    return [
      ...(k > 0 && smooth(k - 1)
        ? [{ side: "in" as const, reach: (keys[k - 1].frame - keys[k].frame) / 3 }]
        : []),
      ...(k < keys.length - 1 && smooth(k)
        ? [{ side: "out" as const, reach: (keys[k + 1].frame - keys[k].frame) / 3 }]
        : []),
    ];
  };
  const turn = (event: PointerEvent, k: number, side: "in" | "out") => {
    if (!held.current) return;
    event.stopPropagation();
    const at = place(event);
    const way = at.frame - keys[k].frame;
    // A tangent does not go back in time.
    if (side === "in" ? way > -0.2 : way < 0.2) return;
    const slope = Number(((at.value - keys[k].value) / way).toPrecision(5));
    const both = event.altKey ? { [side]: slope } : { in: slope, out: slope };
    show(keys.map((key, i) => (i === k ? { ...key, ease: key.ease ?? "smooth", ...both } : key)));
  };
  return [...chosen].flatMap((k) =>
    keys[k]
      ? sides(k).map(({ side, reach }) => {
          const [x0, y0] = [toX(keys[k].frame), toY(keys[k].value)];
          const slope = tangents[k][side];
          const [x1, y1] = [toX(keys[k].frame + reach), toY(keys[k].value + slope * reach)];
          return (
            <g key={`${k}/${side}`}>
              <line x1={x0} y1={y0} x2={x1} y2={y1} stroke={palette.roles.what} />
              <circle
                data-tangent={`${k}/${side}`}
                cx={x1}
                cy={y1}
                r={4}
                fill={palette.roles.card}
                stroke={palette.roles.what}
                strokeWidth={1.6}
                style={{ cursor: "grab" }}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  event.currentTarget.setPointerCapture(event.pointerId);
                  held.current = true;
                }}
                onPointerMove={(event) => turn(event, k, side)}
                onPointerUp={(event) => {
                  event.stopPropagation();
                  held.current = false;
                  end();
                }}
              />
            </g>
          );
        })
      : [],
  );
}
