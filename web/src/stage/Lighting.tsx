import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useRef } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { useDetail } from "./useDetail";
import { useSceneMoment, type SceneMoment } from "./useMoment";

type Lamp = SceneMoment["lamps"][number];

/** Light of a study around all that is shown, which is in a box. Where the machine is slow, shadows
 * wait until nothing moves. */
export function Lighting({ state, box }: { state: StudyState; box: THREE.Box3 }) {
  const invalidate = useThree((s) => s.invalidate);
  const { lamps } = useSceneMoment(state);
  const playing = useInterface((s) => s.playing || s.dragging);
  const quick = useDetail((s) => s.moving && s.level > 0);
  const gl = useThree((s) => s.gl);
  // Turning the view leaves shadows as they are; only what moves the surface would change them.
  const shadow = !(quick && playing);
  const empty = box.isEmpty();
  const middle = empty ? new THREE.Vector3() : box.getCenter(new THREE.Vector3());
  const radius = empty ? 1 : Math.max(box.getSize(new THREE.Vector3()).length() / 2, 0.05);
  const floor = empty ? -1 : box.min.y - radius * 0.02;
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, shadow, lamps, invalidate]);
  return (
    <>
      {lamps.map((lamp, number) =>
        lamp.kind === "sky" ? (
          <hemisphereLight
            key={`${lamp.light}/${number}`}
            position={new THREE.Vector3().fromArray(lamp.towards)}
            color={lamp.colour}
            groundColor={lamp.below}
            intensity={lamp.strength}
          />
        ) : (
          <Sun key={`${lamp.light}/${number}`} lamp={lamp} middle={middle} radius={radius} />
        ),
      )}
      <mesh
        visible={shadow && lamps.some((lamp) => lamp.shadow)}
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

/** Parallel light, and a soft shadow of all that is within a radius. */
function Sun({ lamp, middle, radius }: { lamp: Lamp; middle: THREE.Vector3; radius: number }) {
  const own = useRef<THREE.DirectionalLight>(null);
  useLayoutEffect(() => {
    const light = own.current;
    if (!light) return;
    light.target.position.copy(middle);
    light.target.updateMatrixWorld();
    const towards = new THREE.Vector3().fromArray(lamp.towards);
    light.position.copy(middle).addScaledVector(towards, radius * DISTANCE);
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
  return (
    <directionalLight
      ref={own}
      color={lamp.colour}
      intensity={lamp.strength}
      castShadow={lamp.shadow}
      shadow-mapSize={[1024, 1024]}
      shadow-radius={5}
    />
  );
}

/** Of a sun from what it lights, in radii of it: its shadow's rays begin outside of everything. */
const DISTANCE = 3.6;
