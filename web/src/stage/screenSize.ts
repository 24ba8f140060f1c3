import { useThree } from "@react-three/fiber";
import { useLayoutEffect, type RefObject } from "react";
import * as THREE from "three";
import { useInterface } from "../common/store/store";
import { beforeView } from "./beforeView";
import { useFlat } from "./flatView";

/** What a pixel of a view measures at a place; height : pixels of the view. */
function metresPerPixel(camera: THREE.Camera, place: THREE.Vector3, height: number): number {
  if (!(camera instanceof THREE.PerspectiveCamera)) return useFlat.getState().perPixel;
  const along = place.clone().sub(camera.position);
  const far = along.dot(camera.getWorldDirection(new THREE.Vector3()));
  return (2 * Math.max(far, camera.near) * Math.tan((camera.fov * Math.PI) / 360)) / height;
}

/** Keeps what is made for a radius of 1 at a radius in pixels, in every view. */
export function useScreenSize(object: RefObject<THREE.Object3D | null>, radius: number) {
  const raycaster = useThree((s) => s.raycaster);
  const camera = useThree((s) => s.camera);
  const invalidate = useThree((s) => s.invalidate);
  const four = useInterface((s) => s.four);
  const height = useThree((s) => s.size.height) * (four ? 0.5 : 1);
  useLayoutEffect(() => {
    const fit = (camera: THREE.Camera) => {
      const own = object.current;
      if (!own?.parent) return;
      const world = own.parent.localToWorld(own.position.clone());
      const stretched = own.parent.getWorldScale(new THREE.Vector3()).x || 1;
      own.scale.setScalar((radius * metresPerPixel(camera, world, height)) / stretched);
      own.updateMatrix();
      own.updateWorldMatrix(false, true);
    };
    // Before it is drawn it can be hit already, and must not be as large as the world then.
    fit(raycaster.camera ?? camera);
    beforeView.add(fit);
    invalidate();
    return () => void beforeView.delete(fit);
  }, [object, radius, height, camera, raycaster, invalidate]);
}
