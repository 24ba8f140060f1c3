import * as THREE from "three";
import { round } from "./BallHandle";
import { DirectionGrip } from "./DirectionGrip";
import { Grip } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";
import type { Triple } from "./heldValues";

/** The axis of a bend, twist or taper: drag either limit along it, or its middle across. */
export function AxisHandle({ number, triple, change, finish, size }: HandleProps) {
  const centre = new THREE.Vector3(...triple("centre"));
  const axis = new THREE.Vector3(...triple("axis"));
  if (axis.lengthSq() < 1e-12) axis.set(0, 1, 0);
  axis.normalize();
  const at = (along: number) => centre.clone().addScaledVector(axis, along);
  const low = number("low");
  const high = number("high");
  const alongAxis = (p: THREE.Vector3) => round(p.clone().sub(centre).dot(axis));
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 0, 1), axis);
  // In proportion to what is dragged, so that its head is seen when the piece fills the view.
  const reach = THREE.MathUtils.clamp(Math.abs(high - low) * 0.3, size * 0.1, size * 0.25);
  const ring = Array.from({ length: 49 }, (_, k) => {
    const a = (k / 48) * Math.PI * 2;
    return [Math.cos(a) * size * 0.42, Math.sin(a) * size * 0.42, 0] as Triple;
  });
  return (
    <>
      <HandleLine points={[at(low).toArray(), at(high).toArray()]} width={1.6} />
      {[low, high].map((along, k) => (
        <group key={k} position={at(along)} quaternion={turn}>
          <HandleLine
            points={ring}
            width={1.2}
            dash={size * 0.05}
            gap={size * 0.04}
            opacity={0.85}
          />
        </group>
      ))}
      <DirectionGrip
        from={at(Math.max(low, high))}
        direction={axis}
        length={reach}
        turn={(way) => change({ axis: way })}
        onEnd={finish}
      />
      <Grip
        at={at(low)}
        along={axis}
        onDrag={(p) => change({ low: alongAxis(p) })}
        onEnd={finish}
      />
      <Grip
        at={at(high)}
        along={axis}
        onDrag={(p) => change({ high: alongAxis(p) })}
        onEnd={finish}
      />
      <Grip
        at={centre}
        small
        onDrag={(p) => change({ centre: p.toArray().map(round) })}
        onEnd={finish}
      />
    </>
  );
}
