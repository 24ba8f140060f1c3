/** Numbers at elements, as the server sends them. */
export interface Numbers {
  values: Float32Array;
  /** Three of each. */
  places: Float32Array;
  /** Three of each, or none. */
  normals: Float32Array;
}

export function readNumbers(data: ArrayBuffer): Numbers {
  const [count, withNormals] = new Uint32Array(data, 0, 2);
  const floats = new Float32Array(data, 8);
  return {
    values: floats.subarray(0, count),
    places: floats.subarray(count, 4 * count),
    normals: floats.subarray(4 * count, withNormals ? 7 * count : 4 * count),
  };
}

export interface Label {
  /** Its number among the values. */
  index: number;
  x: number;
  y: number;
}

/** Room that a label takes, pixels. */
export const CELL = { width: 58, height: 17 };

/**
 * Where numbers can be written so that none lies over another: of those that fall into the same
 * cell, the one that is nearest to the eye. What faces away is left out.
 *
 * matrix : 16 numbers, column by column, from the places to the view from -1 to 1
 * towards : from a place to the eye, in the same space, for a camera that sees everything from the
 *     same side; null where `eye` is given
 */
export function placed(
  { places, normals }: Numbers,
  matrix: readonly number[],
  eye: { at: readonly number[] } | { towards: readonly number[] },
  width: number,
  height: number,
): Label[] {
  const columns = Math.max(1, Math.floor(width / CELL.width));
  const rows = Math.max(1, Math.floor(height / CELL.height));
  const nearest = new Float32Array(columns * rows).fill(Infinity);
  const chosen: (Label | undefined)[] = new Array<Label | undefined>(columns * rows);
  for (let k = 0; k < places.length; k += 3) {
    const [x, y, z] = [places[k], places[k + 1], places[k + 2]];
    if (normals.length && !faces(eye, x, y, z, normals, k)) continue;
    const w = matrix[3] * x + matrix[7] * y + matrix[11] * z + matrix[15];
    if (w <= 0) continue;
    const sx = (matrix[0] * x + matrix[4] * y + matrix[8] * z + matrix[12]) / w;
    const sy = (matrix[1] * x + matrix[5] * y + matrix[9] * z + matrix[13]) / w;
    if (Math.abs(sx) >= 1 || Math.abs(sy) >= 1) continue;
    const depth = (matrix[2] * x + matrix[6] * y + matrix[10] * z + matrix[14]) / w;
    const px = ((sx + 1) / 2) * width;
    const py = ((1 - sy) / 2) * height;
    const cell =
      Math.min(rows - 1, Math.floor((py / height) * rows)) * columns +
      Math.min(columns - 1, Math.floor((px / width) * columns));
    if (depth >= nearest[cell]) continue;
    nearest[cell] = depth;
    chosen[cell] = { index: k / 3, x: px, y: py };
  }
  return apart(chosen.filter((label) => label !== undefined));
}

function faces(
  eye: { at: readonly number[] } | { towards: readonly number[] },
  x: number,
  y: number,
  z: number,
  normals: Float32Array,
  k: number,
): boolean {
  const [ex, ey, ez] = "at" in eye ? [eye.at[0] - x, eye.at[1] - y, eye.at[2] - z] : eye.towards;
  return normals[k] * ex + normals[k + 1] * ey + normals[k + 2] * ez > 0;
}

/** Without labels that lie over one before them, which neighbouring cells may give. */
function apart(labels: Label[]): Label[] {
  const kept: Label[] = [];
  for (const label of labels) {
    const free = kept.every(
      (k) =>
        Math.abs(k.x - label.x) >= CELL.width * 0.8 || Math.abs(k.y - label.y) >= CELL.height * 0.8,
    );
    if (free) kept.push(label);
  }
  return kept;
}
