import { useMemo } from "react";
import * as THREE from "three";
import { ROUND, round } from "./BallHandle";
import { DirectionGrip } from "./DirectionGrip";
import { Grip } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";

/** A whirl: drag its middle to move it, the rim of its core to size that, its foot for the depth. */
export function CoreHandle({ number, triple, change, finish, size }: HandleProps) {
  const middle = new THREE.Vector3(...triple("centre"));
  const given = triple("axis");
  const core = number("core");
  const depth = number("depth");
  const [x, y, z] = given;
  const { axis, side, turn } = useMemo(() => {
    const axis = new THREE.Vector3(x, y, z);
    if (axis.length() < 1e-6) axis.set(0, 1, 0);
    axis.normalize();
    const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), axis);
    return { axis, turn, side: new THREE.Vector3(1, 0, 0).applyQuaternion(turn) };
  }, [x, y, z]);
  const foot = middle.clone().addScaledVector(axis, -depth);
  return (
    <>
      <group position={middle} quaternion={turn} scale={core}>
        <HandleLine points={ROUND.map(([a, b]) => [a, 0, b] as const)} />
      </group>
      <HandleLine points={[middle, foot]} dash={0.05} gap={0.04} />
      <DirectionGrip
        from={middle}
        direction={axis}
        length={Math.max(core * 1.6, size * 0.4)}
        turn={(way) => change({ axis: way })}
        onEnd={finish}
      />
      <Grip at={middle} onDrag={(p) => change({ centre: p.toArray().map(round) })} onEnd={finish} />
      <Grip
        at={middle.clone().addScaledVector(side, core)}
        along={side}
        onDrag={(p) => change({ core: round(Math.max(0.001, p.sub(middle).dot(side))) })}
        onEnd={finish}
      />
      <Grip
        at={foot}
        along={axis}
        onDrag={(p) => change({ depth: round(-p.sub(middle).dot(axis)) })}
        onEnd={finish}
      />
    </>
  );
}
