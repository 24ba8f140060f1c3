import * as THREE from "three";
import { round } from "./BallHandle";
import { DirectionGrip } from "./DirectionGrip";
import { Grip } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";
import type { Triple } from "./heldValues";

const SQUARE: Triple[] = [
  [-1, -1, 0],
  [1, -1, 0],
  [1, 1, 0],
  [-1, 1, 0],
  [-1, -1, 0],
];

/** A linear front: drag its middle along its direction, its far side to widen the soft edge. */
export function FrontHandle({ number, triple, change, finish, size }: HandleProps) {
  const position = new THREE.Vector3(...triple("position"));
  const direction = new THREE.Vector3(...triple("direction"));
  if (direction.lengthSq() < 1e-12) direction.set(0, 1, 0);
  direction.normalize();
  const width = number("width");
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 0, 1), direction);
  const reach = size * 0.62;
  const half = width / 2;
  const end = position.clone().addScaledVector(direction, half);
  return (
    <>
      <group position={position} quaternion={turn}>
        {[-half, 0, half].map((z, k) => (
          <HandleLine
            key={k}
            position={[0, 0, z]}
            points={SQUARE.map(([a, b]) => [a * reach, b * reach, 0] as Triple)}
            width={k === 1 ? 1.6 : 1}
            dash={k === 1 ? 0 : size * 0.05}
            gap={size * 0.04}
            opacity={k === 0 ? 0.4 : 0.9}
          />
        ))}
      </group>
      <DirectionGrip
        from={position}
        direction={direction}
        length={half + size * 0.3}
        turn={(way) => change({ direction: way })}
        onEnd={finish}
      />
      <Grip
        at={position}
        along={direction}
        onDrag={(p) => change({ position: p.toArray().map(round) })}
        onEnd={finish}
      />
      <Grip
        at={end}
        small
        along={direction}
        onDrag={(p) => {
          const apart = p.clone().sub(position).dot(direction);
          change({ width: round(Math.max(0.005, apart * 2)) });
        }}
        onEnd={finish}
      />
    </>
  );
}
