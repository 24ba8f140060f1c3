import * as THREE from "three";
import { round } from "./BallHandle";
import { Grip, HANDLE } from "./Grip";
import { HandleLine } from "./HandleLine";

/** A direction of length 1; up where it has none. */
export function unitOf(triple: readonly [number, number, number]): THREE.Vector3 {
  const found = new THREE.Vector3(...triple);
  return found.lengthSq() < 1e-12 ? found.set(0, 1, 0) : found.normalize();
}

interface Props {
  from: THREE.Vector3;
  /** Of length 1. */
  direction: THREE.Vector3;
  length: number;
  turn: (direction: number[]) => void;
  onEnd: () => void;
}

/** An arrow whose tip is dragged to turn it. */
export function DirectionGrip({ from, direction, length, turn, onEnd }: Props) {
  const tip = from.clone().addScaledVector(direction, length);
  const upright = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), direction);
  return (
    <>
      <HandleLine points={[from, tip]} width={1.6} />
      <mesh position={tip} quaternion={upright} renderOrder={9}>
        <coneGeometry args={[length * 0.06, length * 0.18, 14]} />
        <meshBasicMaterial color={HANDLE} depthTest={false} transparent toneMapped={false} />
      </mesh>
      <Grip
        at={tip}
        small
        onDrag={(place) => {
          const way = place.sub(from);
          if (way.length() > length * 0.1) turn(way.normalize().toArray().map(round));
        }}
        onEnd={onEnd}
      />
    </>
  );
}
