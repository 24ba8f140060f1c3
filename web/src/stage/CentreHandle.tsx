import * as THREE from "three";
import { round } from "./BallHandle";
import { DirectionGrip, unitOf } from "./DirectionGrip";
import { Grip } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";

/** A centre that can be dragged; a cross shows its axes. */
export function CentreHandle({ triple, change, finish, size, directions }: HandleProps) {
  const centre = triple("centre");
  const middle = new THREE.Vector3(...centre);
  const reach = size * 0.22;
  return (
    <>
      <group position={centre}>
        {[0, 1, 2].map((axis) => (
          <HandleLine
            key={axis}
            points={[-1, 1].map((s) => new THREE.Vector3().setComponent(axis, s * reach))}
          />
        ))}
      </group>
      {directions.map((name) => (
        <DirectionGrip
          key={name}
          from={middle}
          direction={unitOf(triple(name))}
          length={size * 0.5}
          turn={(way) => change({ [name]: way })}
          onEnd={finish}
        />
      ))}
      <Grip at={middle} onDrag={(p) => change({ centre: p.toArray().map(round) })} onEnd={finish} />
    </>
  );
}
