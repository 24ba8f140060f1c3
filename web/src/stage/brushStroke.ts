import type { Brush } from "../common/store/store";

/** As the document keeps it: of each place x, y, z and the normal's x, y, z, at rest. */
export interface Stroke {
  does: Brush["does"];
  size: number;
  strength: number;
  softness: number;
  path: number[][];
}

/** How far the brush goes before the path gets another place, as a share of its size. */
const APART = 0.2;
export const LONGEST = 1500;

const rounded = (v: number) => Math.round(v * 10000) / 10000;

export function begun(brush: Brush, size: number, does: Brush["does"], place: number[]): Stroke {
  return {
    does,
    size: rounded(size),
    strength: brush.strength,
    softness: brush.softness,
    path: [place.map(rounded)],
  };
}

/** The stroke as far as the brush has come; the same one where it has hardly moved. */
export function goneOn(stroke: Stroke, place: number[]): Stroke {
  const last = stroke.path[stroke.path.length - 1];
  const way = Math.hypot(place[0] - last[0], place[1] - last[1], place[2] - last[2]);
  if (way < APART * stroke.size || stroke.path.length >= LONGEST) return stroke;
  return { ...stroke, path: [...stroke.path, place.map(rounded)] };
}
