import { useMemo } from "react";
import * as THREE from "three";
import { Grip } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";
import type { Triple } from "./heldValues";

export const ROUND = Array.from({ length: 65 }, (_, k) => {
  const a = (k / 64) * Math.PI * 2;
  return [Math.cos(a), Math.sin(a)] as const;
});

/** A ball mask: drag its middle to move it, its rim to size it. */
export function BallHandle({ number, triple, change, finish }: HandleProps) {
  const centre = triple("centre");
  const radius = number("radius");
  const rings = useMemo(
    () => [
      ROUND.map(([a, b]) => [a, b, 0] as Triple),
      ROUND.map(([a, b]) => [a, 0, b] as Triple),
      ROUND.map(([a, b]) => [0, a, b] as Triple),
    ],
    [],
  );
  const middle = new THREE.Vector3(...centre);
  return (
    <>
      <group position={centre} scale={radius}>
        {rings.map((points, k) => (
          <HandleLine
            key={k}
            points={points}
            dash={0.06}
            gap={0.045}
            opacity={k === 1 ? 0.95 : 0.5}
          />
        ))}
      </group>
      <Grip at={middle} onDrag={(p) => change({ centre: p.toArray().map(round) })} onEnd={finish} />
      <Grip
        at={middle.clone().add(new THREE.Vector3(radius, 0, 0))}
        onDrag={(p) => change({ radius: round(Math.max(0.001, p.distanceTo(middle))) })}
        onEnd={finish}
      />
    </>
  );
}

export function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}
