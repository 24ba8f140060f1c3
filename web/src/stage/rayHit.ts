import * as THREE from "three";
import { MeshBVH } from "three-mesh-bvh";
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

const searches = new WeakMap<Float32Array, MeshBVH>();

/** A search over the triangles of a frame, made when the first ray asks and kept with its points. */
function searchOf(points: Float32Array, triangles: Uint32Array): MeshBVH {
  const known = searches.get(points);
  if (known) return known;
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.BufferAttribute(points, 3));
  // The search puts them into an order of its own; those given belong to all frames.
  geometry.setIndex(new THREE.BufferAttribute(triangles.slice(), 1));
  const made = new MeshBVH(geometry);
  searches.set(points, made);
  return made;
}

/** The nearest triangle that a ray meets, from either side. The ray is in the piece's own space. */
export function hitTriangle(
  points: Float32Array,
  triangles: Uint32Array,
  ray: THREE.Ray,
): Hit | null {
  const found = searchOf(points, triangles).raycastFirst(ray, THREE.DoubleSide);
  if (!found?.face) return null;
  const { a, b, c } = found.face;
  const corner = (p: number) => new THREE.Vector3().fromArray(points, 3 * p);
  const shares = new THREE.Vector3();
  new THREE.Triangle(corner(a), corner(b), corner(c)).getBarycoord(found.point, shares);
  return {
    corners: [a, b, c],
    shares: shares.toArray(),
    place: found.point,
    distance: found.distance,
  };
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
