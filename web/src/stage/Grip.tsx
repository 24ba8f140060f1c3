import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";

export const HANDLE = "#f2c14e";

interface Props {
  at: THREE.Vector3;
  size: number;
  /** Called with the pointer's place, in the handle's own space. */
  onDrag: (place: THREE.Vector3) => void;
  onEnd: () => void;
  /** Keep to a line through the grip; otherwise it moves across the view. */
  along?: THREE.Vector3;
}

/** The point of a line that is nearest to a ray. */
function nearestOnLine(ray: THREE.Ray, origin: THREE.Vector3, along: THREE.Vector3) {
  const w = origin.clone().sub(ray.origin);
  const b = along.dot(ray.direction);
  const d = along.dot(w);
  const e = ray.direction.dot(w);
  const below = 1 - b * b;
  if (below < 1e-4) return origin.clone();
  return origin.clone().addScaledVector(along, (b * e - d) / below);
}

/** A ball to take hold of. It keeps its size on the screen. */
export function Grip({ at, size, onDrag, onEnd, along }: Props) {
  const camera = useThree((s) => s.camera);
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const mesh = useRef<THREE.Mesh>(null);
  const [held, setHeld] = useState(false);
  const drag = (event: ThreeEvent<PointerEvent>) => {
    const parent = mesh.current?.parent;
    if (!held || !parent) return;
    event.stopPropagation();
    const world = parent.localToWorld(at.clone());
    let place: THREE.Vector3 | null;
    if (along) {
      const line = along.clone().transformDirection(parent.matrixWorld);
      place = nearestOnLine(event.ray, world, line);
    } else {
      const facing = camera.getWorldDirection(new THREE.Vector3());
      const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(facing, world);
      place = event.ray.intersectPlane(plane, new THREE.Vector3());
    }
    if (place) onDrag(parent.worldToLocal(place));
  };
  return (
    <mesh
      ref={mesh}
      position={at}
      renderOrder={10}
      onPointerDown={(event) => {
        event.stopPropagation();
        (event.target as Element).setPointerCapture(event.pointerId);
        if (controls) controls.enabled = false;
        setHeld(true);
      }}
      onPointerMove={drag}
      onPointerUp={(event) => {
        (event.target as Element).releasePointerCapture(event.pointerId);
        if (controls) controls.enabled = true;
        setHeld(false);
        if (held) onEnd();
      }}
    >
      <sphereGeometry args={[size * (held ? 0.042 : 0.034), 20, 14]} />
      <meshBasicMaterial color={HANDLE} depthTest={false} transparent toneMapped={false} />
    </mesh>
  );
}
