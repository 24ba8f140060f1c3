import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useRef } from "react";
import * as THREE from "three";
import { useInterface } from "../common/store/store";
import { useDetail } from "./useDetail";

/**
 * A key light with a soft shadow, a cool light from behind, and light from the sky. Where the
 * machine is slow, the shadow waits until nothing moves.
 */
export function Lighting({ box }: { box: THREE.Box3 }) {
  const key = useRef<THREE.DirectionalLight>(null);
  const invalidate = useThree((s) => s.invalidate);
  const playing = useInterface((s) => s.playing || s.dragging);
  const quick = useDetail((s) => s.moving && s.level > 0);
  const gl = useThree((s) => s.gl);
  // Turning the view leaves the shadow as it is; only what moves the surface would change it.
  const shadow = !(quick && playing);
  const empty = box.isEmpty();
  const middle = empty ? new THREE.Vector3() : box.getCenter(new THREE.Vector3());
  const radius = empty ? 1 : Math.max(box.getSize(new THREE.Vector3()).length() / 2, 0.05);
  const floor = empty ? -1 : box.min.y - radius * 0.02;
  useLayoutEffect(() => {
    const light = key.current;
    if (!light) return;
    light.target.position.copy(middle);
    light.target.updateMatrixWorld();
    light.position.copy(middle).addScaledVector(new THREE.Vector3(0.5, 0.85, 0.6), radius * 3);
    const camera = light.shadow.camera;
    camera.left = camera.bottom = -radius * 1.3;
    camera.right = camera.top = radius * 1.3;
    camera.near = radius * 0.5;
    camera.far = radius * 7;
    camera.updateProjectionMatrix();
    // Enough that a dense grid does not shade itself in stripes.
    light.shadow.normalBias = radius * 0.05;
    light.shadow.bias = -0.004;
  });
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, shadow, invalidate]);
  return (
    <>
      <hemisphereLight args={["#dcd6f2", "#4a3c34", 1.05]} />
      <directionalLight
        ref={key}
        color="#fff1dc"
        intensity={2.5}
        castShadow
        shadow-mapSize={[1024, 1024]}
        shadow-radius={5}
      />
      <directionalLight color="#9fb4ff" intensity={1.5} position={[-4, 1.6, -3.4]} />
      <mesh
        visible={shadow}
        rotation-x={-Math.PI / 2}
        position={[middle.x, floor, middle.z]}
        receiveShadow
      >
        <circleGeometry args={[radius * 6, 48]} />
        <shadowMaterial opacity={0.32} transparent depthWrite={false} />
      </mesh>
    </>
  );
}
