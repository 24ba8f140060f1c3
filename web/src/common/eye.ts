import type * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";

export interface Eye {
  /** Metres on the stage. */
  position: [number, number, number];
  target: [number, number, number];
}

let looked: (() => Eye) | null = null;

/** Says where it is looked at the study from, for as long as it is; returns what ends it. */
export function looksThrough(camera: THREE.Camera, controls: Controls): () => void {
  const own = () => ({ position: camera.position.toArray(), target: controls.target.toArray() });
  looked = own;
  return () => {
    if (looked === own) looked = null;
  };
}

/** Where the study is looked at from now; null where no stage is open. */
export function presentEye(): Eye | null {
  return looked?.() ?? null;
}
