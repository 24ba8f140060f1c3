export interface Facing {
  /** Where the chosen point numbers begin in the array that was given, and how many they are. */
  start: number;
  count: number;
  /** 1 where fronts are seen, -1 where the surface is inside out and its backs are. */
  side: 1 | -1;
}

/**
 * The triangles of a closed surface that face the eye, for machines that draw in software: there
 * one that is thrown away costs half as much as one that is drawn, and deciding it here costs next
 * to nothing.
 *
 * packed : four numbers a point, of which three are shares of the box (÷ 65535)
 * eye : in the piece's own space
 * out : room for as many point numbers as `triangles` has
 */
export function facingTriangles(
  packed: Uint16Array,
  low: readonly number[],
  high: readonly number[],
  triangles: Uint32Array,
  eye: readonly number[],
  out: Uint32Array,
): Facing {
  const [sx, sy, sz] = high.map((h, k) => (h - low[k]) / 65535);
  // In steps of the box, a triangle's side and its volume to the eye are one triple product.
  const ex = (eye[0] - low[0]) / (sx || 1);
  const ey = (eye[1] - low[1]) / (sy || 1);
  const ez = (eye[2] - low[2]) / (sz || 1);
  let volume = 0;
  let fronts = 0;
  let backs = out.length;
  for (let t = 0; t < triangles.length; t += 3) {
    const i = triangles[t];
    const j = triangles[t + 1];
    const k = triangles[t + 2];
    const ax = packed[4 * i] - ex;
    const ay = packed[4 * i + 1] - ey;
    const az = packed[4 * i + 2] - ez;
    const bx = packed[4 * j] - ex;
    const by = packed[4 * j + 1] - ey;
    const bz = packed[4 * j + 2] - ez;
    const cx = packed[4 * k] - ex;
    const cy = packed[4 * k + 1] - ey;
    const cz = packed[4 * k + 2] - ez;
    const part = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    volume += part;
    const at = part < 0 ? (fronts += 3) - 3 : (backs -= 3);
    out[at] = i;
    out[at + 1] = j;
    out[at + 2] = k;
  }
  return volume >= 0
    ? { start: 0, count: fronts, side: 1 }
    : { start: backs, count: out.length - backs, side: -1 };
}
