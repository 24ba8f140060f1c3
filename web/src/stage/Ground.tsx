import { useEffect, useLayoutEffect, useMemo } from "react";
import * as THREE from "three";
import type { Schemas } from "../api/client";
import { makeMirror } from "./mirror";

interface Props {
  ground: Schemas["GroundTold"];
  middle: THREE.Vector3;
  radius: number;
  /** Height under what is shown. */
  floor: number;
  /** Whether any lamp throws a shadow now. */
  shadow: boolean;
  /** Whether there is no time for what costs most. */
  quick: boolean;
}

/** What the pieces stand on. */
export function Ground({ ground, middle, radius, floor, shadow, quick }: Props) {
  const { kind } = ground;
  if (kind === "none" || (kind === "shadow" && !shadow)) return null;
  const place: [number, number, number] = [middle.x, ground.level ?? floor, middle.z];
  const reach = kind === "shadow" ? radius * 6 : farOf(radius);
  return (
    <group rotation-x={-Math.PI / 2} position={place}>
      <mesh receiveShadow>
        <circleGeometry args={[reach, 64]} />
        {kind === "shadow" ? (
          <shadowMaterial opacity={ground.shadow} transparent depthWrite={false} />
        ) : (
          <meshStandardMaterial color={ground.colour} roughness={ground.roughness} />
        )}
      </mesh>
      {kind === "mirror" && !quick && <Mirror ground={ground} reach={reach} radius={radius} />}
    </group>
  );
}

/** How far a plane reaches: beyond where its rim is seen, also while next to nothing is shown. It
 * grows by whole doublings, so that it is not made anew whenever a piece moves. */
function farOf(radius: number): number {
  return 2 ** Math.ceil(Math.log2(Math.max(radius * 30, 64)));
}

/** What stands on the ground, mirrored in it, less sharp the rougher it is. */
function Mirror(props: { ground: Schemas["GroundTold"]; reach: number; radius: number }) {
  const { ground, reach, radius } = props;
  const mirror = useMemo(() => makeMirror(reach), [reach]);
  useEffect(
    () => () => {
      mirror.dispose();
      mirror.geometry.dispose();
    },
    [mirror],
  );
  useLayoutEffect(() => {
    const { uniforms } = mirror.material as THREE.ShaderMaterial;
    uniforms.strength.value = ground.mirror;
    uniforms.blur.value = ground.roughness;
  }, [mirror, ground]);
  return <primitive object={mirror} position={[0, 0, radius * 1e-3]} />;
}
