import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import { useInterface } from "../common/store/store";
import { useScreenSize } from "./screenSize";

/** Whether a grip is being dragged, for whoever else listens to the pointer. */
export const grips = { held: false };

export const HANDLE = "#f2c14e";

interface Props {
  at: THREE.Vector3;
  /** For a place that is less often wanted. */
  small?: boolean;
  /** Called with the pointer's place, in the handle's own space. */
  onDrag: (place: THREE.Vector3) => void;
  onEnd: () => void;
  /** Called before a drag; true where something else is done instead. */
  onPress?: () => boolean;
  onRemove?: () => void;
  /** Keep to the plane of x and y. */
  flat?: boolean;
  /** What it sets, shown while the pointer is on it. */
  says?: string;
  colour?: string;
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
export function Grip({
  at,
  small = false,
  flat = false,
  along,
  says,
  colour = HANDLE,
  ...on
}: Props) {
  const raycaster = useThree((s) => s.raycaster);
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const mesh = useRef<THREE.Mesh>(null);
  const [held, setHeld] = useState(false);
  // What the state is to be told by the next picture, moves of the pointer need at once: on a busy
  // machine several come before it.
  const holding = useRef(false);
  const [over, setOver] = useState(false);
  useEffect(() => {
    if (!says || !(over || held)) return;
    useInterface.getState().set({ gripSays: says });
    return () => useInterface.getState().set({ gripSays: "" });
  }, [says, over, held]);
  const radius = (small ? 6 : 7.5) * (held ? 1.25 : 1);
  useScreenSize(mesh, radius);
  const drag = (event: ThreeEvent<PointerEvent>) => {
    const parent = mesh.current?.parent;
    if (!holding.current || !parent) return;
    event.stopPropagation();
    const world = parent.localToWorld(at.clone());
    let place: THREE.Vector3 | null;
    if (along) {
      const line = along.clone().transformDirection(parent.matrixWorld);
      place = nearestOnLine(event.ray, world, line);
    } else if (flat) {
      const normal = new THREE.Vector3(0, 0, 1).transformDirection(parent.matrixWorld);
      const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(normal, world);
      place = event.ray.intersectPlane(plane, new THREE.Vector3());
    } else {
      const facing = raycaster.camera.getWorldDirection(new THREE.Vector3());
      const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(facing, world);
      place = event.ray.intersectPlane(plane, new THREE.Vector3());
    }
    if (place) on.onDrag(parent.worldToLocal(place));
  };
  return (
    <mesh
      ref={mesh}
      position={at}
      renderOrder={10}
      onPointerDown={(event) => {
        event.stopPropagation();
        if (event.nativeEvent.button !== 0 || on.onPress?.()) return;
        (event.target as Element).setPointerCapture(event.pointerId);
        if (controls) controls.enabled = false;
        grips.held = true;
        holding.current = true;
        setHeld(true);
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        on.onRemove?.();
      }}
      onPointerMove={drag}
      onPointerOver={() => setOver(true)}
      onPointerOut={() => setOver(false)}
      onPointerUp={(event) => {
        (event.target as Element).releasePointerCapture(event.pointerId);
        if (controls) controls.enabled = true;
        grips.held = false;
        setHeld(false);
        if (holding.current) on.onEnd();
        holding.current = false;
      }}
    >
      <sphereGeometry args={[1, 20, 14]} />
      <meshBasicMaterial color={colour} depthTest={false} transparent toneMapped={false} />
    </mesh>
  );
}
