import type * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";

export interface Eye {
  /** Metres on the stage. */
  position: [number, number, number];
  target: [number, number, number];
}

/** With how much is seen, degrees from the lower to the upper edge. */
export type PresentEye = Eye & { angle: number };

let looked: (() => PresentEye) | null = null;

/** Says where it is looked at the study from, for as long as it is; returns what ends it. */
export function looksThrough(camera: THREE.PerspectiveCamera, controls: Controls): () => void {
  const own = () => ({
    position: camera.position.toArray(),
    target: controls.target.toArray(),
    angle: camera.fov,
  });
  looked = own;
  return () => {
    if (looked === own) looked = null;
  };
}

/** Where the study is looked at from now; null where no stage is open. */
export function presentEye(): PresentEye | null {
  return looked?.() ?? null;
}
