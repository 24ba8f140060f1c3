import * as THREE from "three";
import type { Schemas } from "../api/client";

export type ViewTold = Schemas["ViewTold"];

interface Size {
  width: number;
  height: number;
}

/** The picture that a camera takes lies this far from the rims of the stage, in shares of it. */
const ROOM = 0.94;

/** The part of a place that shows the picture of a camera, in shares of its width and height, when
 * as much as possible of it is shown and some of what lies around. */
export function frameWithin(size: Size, aspect: number, room = ROOM): Size {
  const place = size.width / Math.max(size.height, 1);
  return aspect > place
    ? { width: room, height: (room * place) / aspect }
    : { width: (room * aspect) / place, height: room };
}

/** Where drawing begins and ends, metres. reach : how far what is shown reaches. */
export function clipRange(view: ViewTold, reach: number): { near: number; far: number } {
  const away = Math.hypot(...view.position.map((v, k) => v - view.target[k]));
  return {
    near: view.near ?? Math.min(0.01, Math.max(away, reach) * 0.003),
    far: view.far ?? Math.max(500, (away + reach) * 10),
  };
}

/** Turns a camera of the stage to what the study's camera sees.
 *
 * share : of the stage's height that its picture takes
 * across : width of the stage over its height */
export function aimAt(
  camera: THREE.PerspectiveCamera | THREE.OrthographicCamera,
  view: ViewTold,
  share: number,
  across: number,
  reach: number,
) {
  camera.position.fromArray(view.position);
  camera.up.fromArray(view.up);
  camera.lookAt(new THREE.Vector3().fromArray(view.target));
  Object.assign(camera, clipRange(view, reach));
  if (camera instanceof THREE.OrthographicCamera) {
    camera.top = (view.height ?? 1) / 2 / share;
    camera.bottom = -camera.top;
    camera.right = camera.top * across;
    camera.left = -camera.right;
  } else {
    camera.fov = fovOf(view.angle, share);
    camera.aspect = across;
  }
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
}

/** The vertical angle of a stage of whose height a picture with an angle of view takes a share;
 * degrees. */
export function fovOf(angle: number, share: number): number {
  const half = Math.tan(((angle / 2) * Math.PI) / 180) / share;
  return (Math.atan(half) * 360) / Math.PI;
}

/** The eight corners of what a camera sees between its lens and a distance, for drawing it: the
 * near ones first, each way round. */
export function corners(view: ViewTold, distance: number): THREE.Vector3[] {
  const at = new THREE.Vector3().fromArray(view.position);
  const ahead = new THREE.Vector3().fromArray(view.target).sub(at).normalize();
  const right = ahead.clone().cross(new THREE.Vector3().fromArray(view.up)).normalize();
  const up = right.clone().cross(ahead);
  return [0, distance].flatMap((far) => {
    const high =
      view.height === null
        ? Math.tan(((view.angle / 2) * Math.PI) / 180) * far
        : Math.min(view.height / 2, distance);
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([x, y]) =>
      at
        .clone()
        .addScaledVector(ahead, far)
        .addScaledVector(right, x * high * view.aspect)
        .addScaledVector(up, y * high),
    );
  });
}
