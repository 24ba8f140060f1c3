import * as THREE from "three";
import type { FrameData } from "../api/frame";

/** Where a ray meets a piece. */
export interface Hit {
  /** Numbers of the points around it, and their shares. */
  corners: [number, number, number];
  shares: [number, number, number];
  /** In the piece's own space. */
  place: THREE.Vector3;
  distance: number;
}

const places = new WeakMap<FrameData, Float32Array>();

/** Points of a frame in metres, in the piece's own space. */
export function placesOf(data: FrameData): Float32Array {
  const [{ exact, points, low, high }] = data.meshes;
  if (exact) return exact;
  const known = places.get(data);
  if (known) return known;
  const count = points.length / 4;
  const found = new Float32Array(count * 3);
  for (let axis = 0; axis < 3; axis++) {
    const span = (high[axis] - low[axis]) / 65535;
    for (let p = 0; p < count; p++) {
      found[3 * p + axis] = low[axis] + points[4 * p + axis] * span;
    }
  }
  places.set(data, found);
  return found;
}

/**
 * The nearest triangle that a ray meets, from either side (T. Möller & B. Trumbore, 1997).
 * The ray is in the piece's own space.
 */
export function hitTriangle(
  points: Float32Array,
  triangles: Uint32Array,
  { origin: o, direction: d }: THREE.Ray,
): Hit | null {
  let best = Infinity;
  let found: Hit | null = null;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 3 * triangles[t];
    const b = 3 * triangles[t + 1];
    const c = 3 * triangles[t + 2];
    const ax = points[a];
    const ay = points[a + 1];
    const az = points[a + 2];
    const ex = points[b] - ax;
    const ey = points[b + 1] - ay;
    const ez = points[b + 2] - az;
    const fx = points[c] - ax;
    const fy = points[c + 1] - ay;
    const fz = points[c + 2] - az;
    const px = d.y * fz - d.z * fy;
    const py = d.z * fx - d.x * fz;
    const pz = d.x * fy - d.y * fx;
    const det = ex * px + ey * py + ez * pz;
    if (Math.abs(det) < 1e-20) continue;
    const tx = o.x - ax;
    const ty = o.y - ay;
    const tz = o.z - az;
    const u = (tx * px + ty * py + tz * pz) / det;
    if (u < 0 || u > 1) continue;
    const qx = ty * ez - tz * ey;
    const qy = tz * ex - tx * ez;
    const qz = tx * ey - ty * ex;
    const v = (d.x * qx + d.y * qy + d.z * qz) / det;
    if (v < 0 || u + v > 1) continue;
    const far = (fx * qx + fy * qy + fz * qz) / det;
    if (far <= 0 || far >= best) continue;
    best = far;
    found = {
      corners: [triangles[t], triangles[t + 1], triangles[t + 2]],
      shares: [1 - u - v, u, v],
      place: new THREE.Vector3(o.x, o.y, o.z).addScaledVector(d, far),
      distance: far,
    };
  }
  return found;
}

/** The point that lies nearest to a ray, seen from its origin, within a share of its distance. */
export function hitPoint(
  points: Float32Array,
  { origin: o, direction: d }: THREE.Ray,
  within = 0.02,
): Hit | null {
  let best = within;
  let found: Hit | null = null;
  for (let p = 0; p < points.length / 3; p++) {
    const x = points[3 * p] - o.x;
    const y = points[3 * p + 1] - o.y;
    const z = points[3 * p + 2] - o.z;
    const along = x * d.x + y * d.y + z * d.z;
    if (along <= 0) continue;
    const beside = Math.sqrt(Math.max(0, x * x + y * y + z * z - along * along)) / along;
    if (beside >= best) continue;
    best = beside;
    found = {
      corners: [p, p, p],
      shares: [1, 0, 0],
      place: new THREE.Vector3(points[3 * p], points[3 * p + 1], points[3 * p + 2]),
      distance: along,
    };
  }
  return found;
}

/** Where a ray on the stage meets a piece that stands at a place. */
export function hitOf(data: FrameData, place: number[], ray: THREE.Ray): Hit | null {
  const back = new THREE.Matrix4().fromArray(place).invert();
  const own = ray.clone().applyMatrix4(back);
  const points = placesOf(data);
  const { triangles } = data.meshes[0].topology;
  // A brush draws on a surface, and copies are no surface of their own.
  if (data.header.copies) return null;
  return triangles.length ? hitTriangle(points, triangles, own) : hitPoint(points, own);
}

/** A mean of three points of an array. */
export function mixed(points: Float32Array, { corners, shares }: Hit): THREE.Vector3 {
  const found = new THREE.Vector3();
  corners.forEach((p, k) =>
    found.addScaledVector(
      new THREE.Vector3(points[3 * p], points[3 * p + 1], points[3 * p + 2]),
      shares[k],
    ),
  );
  return found;
}

/** The normal of the triangle around a hit; none of a point alone. */
export function normalAt(points: Float32Array, { corners }: Hit): THREE.Vector3 {
  const [a, b, c] = corners.map(
    (p) => new THREE.Vector3(points[3 * p], points[3 * p + 1], points[3 * p + 2]),
  );
  return b.sub(a).cross(c.sub(a)).normalize();
}
