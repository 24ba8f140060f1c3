import * as THREE from "three";
import { create } from "zustand";
import type { View } from "../common/store/store";

export type FlatView = Exclude<View, "perspective" | "camera">;

/** Where each flat view looks from, and what is up in it. */
const AXES: Record<FlatView, { from: THREE.Vector3; up: THREE.Vector3 }> = {
  front: { from: new THREE.Vector3(0, 0, 1), up: new THREE.Vector3(0, 1, 0) },
  side: { from: new THREE.Vector3(1, 0, 0), up: new THREE.Vector3(0, 1, 0) },
  top: { from: new THREE.Vector3(0, 1, 0), up: new THREE.Vector3(0, 0, -1) },
};

interface Flat {
  /** What is in the middle of every flat view; they move together. */
  centre: THREE.Vector3;
  /** Metres that a pixel of the page shows. */
  perPixel: number;
}

export const useFlat = create<Flat>()(() => ({ centre: new THREE.Vector3(), perPixel: 0.005 }));

export function isFlat(view: View): view is FlatView {
  return view !== "perspective" && view !== "camera";
}

/** Metres to the right and upwards in a view, as a way on the stage. */
export function acrossView(view: FlatView, right: number, up: number): THREE.Vector3 {
  const axes = AXES[view];
  const sideways = axes.up.clone().cross(axes.from);
  return sideways.multiplyScalar(right).addScaledVector(axes.up, up);
}

/** Turn a camera to what a flat view shows on so many pixels. */
export function aim(
  camera: THREE.OrthographicCamera,
  view: FlatView,
  { centre, perPixel }: Flat,
  width: number,
  height: number,
  depth: number,
) {
  const { from, up } = AXES[view];
  camera.position.copy(centre).addScaledVector(from, depth);
  camera.up.copy(up);
  camera.lookAt(centre);
  camera.right = (width * perPixel) / 2;
  camera.left = -camera.right;
  camera.top = (height * perPixel) / 2;
  camera.bottom = -camera.top;
  camera.near = 0;
  camera.far = depth * 2;
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
}

const ROOM = 1.25;

/** The flat views so that a box is seen whole in panes of so many pixels. */
export function fitted(box: THREE.Box3, views: FlatView[], width: number, height: number): Flat {
  const size = box.getSize(new THREE.Vector3());
  const needed = views.map((view) => {
    const right = acrossView(view, 1, 0);
    const up = acrossView(view, 0, 1);
    return Math.max(Math.abs(size.dot(right)) / width, Math.abs(size.dot(up)) / height);
  });
  const perPixel = Math.max(...needed) * ROOM || 0.005;
  return { centre: box.getCenter(new THREE.Vector3()), perPixel };
}

/** The flat views nearer or farther, with the place under the pointer kept where it is.
 *
 * right, up : metres from the middle of the view to the pointer, before */
export function zoomed(
  flat: Flat,
  view: FlatView,
  factor: number,
  right: number,
  up: number,
): Flat {
  const kept = acrossView(view, right, up).multiplyScalar(1 - factor);
  return { centre: flat.centre.clone().add(kept), perPixel: flat.perPixel * factor };
}
