import * as THREE from "three";
import type { Grip } from "../api/client";
import type { Triple } from "./heldValues";

/** Values of an entry at the present frame. */
export interface Read {
  number: (name: string) => number;
  triple: (name: string) => Triple;
}

/** A value, or one component of it as `name/0`. */
export function partOf(path: string): { name: string; component: number | null } {
  const [name, component] = path.split("/");
  return { name, component: component === undefined ? null : Number(component) };
}

export function readOf({ number, triple }: Read, path: string): number {
  const { name, component } = partOf(path);
  return component === null ? number(name) : triple(name)[component];
}

/** Where a grip begins: the sum of what its foot names. */
export function footOf(grip: Grip, read: Read): THREE.Vector3 {
  const at = new THREE.Vector3();
  for (const { value, times } of grip.foot) {
    if (times) at.addScaledVector(new THREE.Vector3(...times), readOf(read, value));
    else at.add(new THREE.Vector3(...read.triple(value)));
  }
  return at;
}

/** The direction of a reach, or the axis of a turn, of length 1; up where it has none. */
export function alongOf(grip: Grip, read: Read): THREE.Vector3 {
  const given = typeof grip.along === "string" ? read.triple(grip.along) : grip.along;
  const found = new THREE.Vector3(...given);
  if (found.lengthSq() < 1e-12) found.set(0, 1, 0);
  else found.normalize();
  if (grip.beside) return sideOf(found);
  return grip.turned ? found.applyQuaternion(turnedBy(read.triple(grip.turned))) : found;
}

/** The side of an axis from which deformers count their angles. */
export function sideOf(axis: THREE.Vector3): THREE.Vector3 {
  return new THREE.Vector3(1, 0, 0).applyQuaternion(frameOf(axis));
}

/** Turns about x, then y, then z; °. */
export function turnedBy([x, y, z]: Triple): THREE.Quaternion {
  const radians = [x, y, z].map((d) => (d * Math.PI) / 180);
  return new THREE.Quaternion().setFromEuler(
    new THREE.Euler(radians[0], radians[1], radians[2], "ZYX"),
  );
}

/** Turns z to an axis, and x to the side from which deformers count their angles. */
export function frameOf(axis: THREE.Vector3): THREE.Quaternion {
  const helper = Math.abs(axis.x) < 0.9 ? new THREE.Vector3(1, 0, 0) : new THREE.Vector3(0, 0, -1);
  const side = helper.addScaledVector(axis, -helper.dot(axis)).normalize();
  const matrix = new THREE.Matrix4().makeBasis(side, axis.clone().cross(side), axis);
  return new THREE.Quaternion().setFromRotationMatrix(matrix);
}

/** Axes of turns about x, then y, then z: each turned by those that come after it. */
export function gimbalAxes([, y, z]: Triple): THREE.Vector3[] {
  const about = (axis: THREE.Vector3, degrees: number) =>
    new THREE.Quaternion().setFromAxisAngle(axis, (degrees * Math.PI) / 180);
  const [ex, ey, ez] = [0, 1, 2].map((k) => new THREE.Vector3().setComponent(k, 1));
  const aboutZ = about(ez, z);
  return [
    ex.applyQuaternion(about(ey, y)).applyQuaternion(aboutZ),
    ey.clone().applyQuaternion(aboutZ),
    ez,
  ];
}

/** The angle nearest to the present one that points the same way as a new one; °. */
export function unwound(present: number, turned: number): number {
  const way = (((turned - present) % 360) + 540) % 360;
  return present + way - 180;
}
