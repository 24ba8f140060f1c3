import * as THREE from "three";
import { round, ROUND } from "./BallHandle";
import { DirectionGrip, unitOf } from "./DirectionGrip";
import { frameOf, turnedBy } from "./gripPlaces";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";
import type { Triple } from "./heldValues";

/** The twelve edges of a box, as pairs of corners. */
const EDGES = [0, 1, 2].flatMap((axis) =>
  [-1, 1].flatMap((a) =>
    [-1, 1].map((b) => {
      const others = [0, 1, 2].filter((k) => k !== axis);
      return [-1, 1].map((c) => {
        const corner: Triple = [0, 0, 0];
        corner[axis] = c;
        corner[others[0]] = a;
        corner[others[1]] = b;
        return corner;
      });
    }),
  ),
);

/** The edges of a box mask; its grips are those of its values. */
export function BoxOutline({ triple }: HandleProps) {
  const half = triple("size").map((s) => s / 2) as Triple;
  return (
    <group position={triple("centre")} quaternion={turnedBy(triple("turn"))} scale={half}>
      {EDGES.map((edge, k) => (
        <HandleLine key={k} points={edge} opacity={0.85} />
      ))}
    </group>
  );
}

interface AxisProps extends HandleProps {
  children: React.ReactNode;
  length: number;
}

/** What lies about an axis: drawn with z along it, and an arrow to turn it. */
function AboutAxis({ triple, change, finish, children, length }: AxisProps) {
  const centre = new THREE.Vector3(...triple("centre"));
  const axis = unitOf(triple("axis"));
  return (
    <>
      <group position={centre} quaternion={frameOf(axis)}>
        {children}
      </group>
      <DirectionGrip
        from={centre}
        direction={axis}
        length={length}
        turn={(way) => change({ axis: way.map(round) })}
        onEnd={finish}
      />
    </>
  );
}

const circle = (radius: number, z = 0) =>
  ROUND.map(([a, b]) => [a * radius, b * radius, z] as Triple);

export function CylinderOutline(props: HandleProps) {
  const radius = props.number("radius");
  const half = props.number("height") / 2;
  return (
    <AboutAxis {...props} length={half + props.size * 0.25}>
      <HandleLine points={circle(radius, -half)} opacity={0.9} />
      <HandleLine points={circle(radius, half)} opacity={0.9} />
      {[0, 1, 2, 3].map((k) => {
        const a = (k * Math.PI) / 2;
        const [x, y] = [Math.cos(a) * radius, Math.sin(a) * radius];
        return (
          <HandleLine
            key={k}
            points={[
              [x, y, -half],
              [x, y, half],
            ]}
            opacity={0.5}
          />
        );
      })}
    </AboutAxis>
  );
}

export function RingOutline(props: HandleProps) {
  const radius = props.number("radius");
  const half = props.number("thickness") / 2;
  return (
    <AboutAxis {...props} length={half + props.size * 0.3}>
      <HandleLine points={circle(radius)} />
      <HandleLine points={circle(Math.max(0, radius - half))} opacity={0.5} />
      <HandleLine points={circle(radius + half)} opacity={0.5} />
      {[0, 1, 2, 3].map((k) => (
        <group key={k} rotation={[0, 0, (k * Math.PI) / 2]}>
          <HandleLine
            points={ROUND.map(([a, b]) => [radius + a * half, 0, b * half] as Triple)}
            opacity={0.5}
          />
        </group>
      ))}
    </AboutAxis>
  );
}

/** How many bands are outlined on each side of the centre. */
const SHOWN_BANDS = 4;

export function BandsOutline(props: HandleProps) {
  const lies = String(props.given("lies"));
  const spacing = props.number("spacing");
  const spokes = Math.max(1, Math.round(props.number("spokes")));
  const places = Array.from({ length: SHOWN_BANDS }, (_, k) => k);
  const reach = props.size * 0.6;
  return (
    <AboutAxis {...props} length={props.size * 0.5}>
      {lies === "along" &&
        places.map((k) => (
          <HandleLine
            key={k}
            position={[0, 0, (k - 1.5) * spacing]}
            points={[
              [-reach, -reach, 0],
              [reach, -reach, 0],
              [reach, reach, 0],
              [-reach, reach, 0],
              [-reach, -reach, 0],
            ]}
            opacity={0.45}
          />
        ))}
      {(lies === "from_centre" || lies === "from_axis") &&
        places.map((k) => (
          <HandleLine key={k} points={circle((k + 0.5) * spacing)} opacity={0.5} />
        ))}
      {lies === "turn" &&
        Array.from({ length: Math.min(spokes, 48) }, (_, k) => {
          const a = ((k + 0.5) / spokes) * Math.PI * 2;
          return (
            <HandleLine
              key={k}
              points={[
                [0, 0, 0],
                [Math.cos(a) * reach, Math.sin(a) * reach, 0],
              ]}
              opacity={0.5}
            />
          );
        })}
    </AboutAxis>
  );
}

export function AngleOutline(props: HandleProps) {
  const middle = (props.number("from") * Math.PI) / 180;
  const half = (props.number("open") * Math.PI) / 360;
  const reach = props.size * 0.62;
  const sector = String(props.given("way")) === "sector";
  const arc = Array.from({ length: 49 }, (_, k) => {
    const a = middle - half + (k / 48) * 2 * half;
    return [Math.cos(a) * reach, Math.sin(a) * reach, 0] as Triple;
  });
  return (
    <AboutAxis {...props} length={props.size * 0.7}>
      {sector && <HandleLine points={[[0, 0, 0], ...arc, [0, 0, 0]]} width={2} />}
    </AboutAxis>
  );
}
