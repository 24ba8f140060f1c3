import type { FrameData, Topology } from "../api/frame";

/** Whether the surface has no border and its faces look outward, so that no back is ever seen. */
export function isClosedOutward(data: FrameData, topology: Topology): boolean {
  return data.header.closed && signedVolume(data, topology.triangles) > 0;
}

/** Six times the volume, in shares of the box. */
function signedVolume(data: FrameData, triangles: Uint32Array): number {
  const p = data.points;
  const { low, high } = data.header;
  const size = high.map((h, k) => h - low[k]);
  const at = (i: number, k: number) => (p[4 * i + k] / 65535 - 0.5) * size[k];
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    sum +=
      at(a, 0) * (at(b, 1) * at(c, 2) - at(b, 2) * at(c, 1)) +
      at(a, 1) * (at(b, 2) * at(c, 0) - at(b, 0) * at(c, 2)) +
      at(a, 2) * (at(b, 0) * at(c, 1) - at(b, 1) * at(c, 0));
  }
  return sum;
}
