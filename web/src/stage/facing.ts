/**
 * The triangles that face the eye, for machines that draw in software: there a triangle that is
 * thrown away costs half as much as one that is drawn, and deciding it here costs next to nothing.
 *
 * packed : four numbers a point, of which three are shares of the box (÷ 65535)
 * eye : in the piece's own space
 * Writes point numbers to `out` and returns how many.
 */
export function facingTriangles(
  packed: Uint16Array,
  low: readonly number[],
  high: readonly number[],
  triangles: Uint32Array,
  eye: readonly number[],
  out: Uint32Array,
): number {
  const [sx, sy, sz] = high.map((h, k) => (h - low[k]) / 65535);
  // Seen from the eye in steps of the box, a triangle's side is told by a triple product.
  const ex = (eye[0] - low[0]) / (sx || 1);
  const ey = (eye[1] - low[1]) / (sy || 1);
  const ez = (eye[2] - low[2]) / (sz || 1);
  let count = 0;
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
    const side = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    if (side < 0) {
      out[count] = i;
      out[count + 1] = j;
      out[count + 2] = k;
      count += 3;
    }
  }
  return count;
}
