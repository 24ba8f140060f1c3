import * as THREE from "three";
import type { CatalogueEntry, Grip as GripEntry } from "../api/client";
import { isPair, isSignal, type DocValue } from "../api/document";
import { withUnit } from "../model/parse";
import { ROUND, round } from "./BallHandle";
import { DirectionGrip } from "./DirectionGrip";
import { Grip, HANDLE } from "./Grip";
import { alongOf, footOf, frameOf, gimbalAxes, partOf, readOf, unwound } from "./gripPlaces";
import { HandleLine } from "./HandleLine";
import type { Held, Triple } from "./heldValues";

const AXES = ["#e58a78", "#93c47d", "#86a9e6"];

interface Props extends Held {
  values: CatalogueEntry["values"];
  /** Metres: half of what is around. */
  size: number;
}

/** Lengths, places and angles that the catalogue puts on the stage. */
export function ValueGrips({ grips, ...props }: Props & { grips: GripEntry[] }) {
  return grips.map((grip) => {
    const { name } = partOf(grip.value);
    const when = props.values[name]?.shown_when;
    if (when && !when[1].includes(String(props.given(when[0])))) return null;
    const Kind = { reach: Reach, spot: Spot, turn: Turn, gimbal: Gimbal, plane: Plane }[grip.kind];
    return <Kind key={`${grip.kind}/${grip.value}`} grip={grip} {...props} />;
  });
}

type One = Props & { grip: GripEntry };

/** Whether a signal moves the value, so that there is nothing to take hold of. */
function moves({ grip, given }: One): boolean {
  const { name, component } = partOf(grip.value);
  const value = given(name);
  const part = component === null ? value : (value as DocValue[])[component];
  return isSignal(part) || isPair(part);
}

/** Change a number, within what its value may be. */
function changer({ grip, given, values, change }: One) {
  const { name, component } = partOf(grip.value);
  const [least, most] = values[name].hard;
  return (wanted: number) => {
    const value = round(Math.min(Math.max(wanted, least ?? -Infinity), most ?? Infinity));
    if (component === null) return change({ [name]: value });
    change({
      [name]: (given(name) as DocValue[]).map((v, k) => (k === component ? value : v)) as DocValue,
    });
  };
}

function saying({ grip, values, ...read }: One): string {
  const { name, component } = partOf(grip.value);
  const axis = component === null ? "" : ` ${"xyz"[component]}`;
  return `${values[name].label}${axis} ${withUnit(round(readOf(read, grip.value)), values[name].unit)}`;
}

/** A length as a line from its foot; its tip is dragged. */
function Reach(props: One) {
  const { grip, finish } = props;
  const foot = footOf(grip, props);
  const along = alongOf(grip, props);
  const tip = foot.clone().addScaledVector(along, readOf(props, grip.value) * grip.per);
  const set = changer(props);
  const far = tip.distanceTo(foot);
  return (
    <>
      <HandleLine points={[foot, tip]} />
      {grip.beside && far > 1e-6 && (
        <group
          position={foot}
          quaternion={frameOf(alongOf({ ...grip, beside: false }, props))}
          scale={far}
        >
          <HandleLine
            points={ROUND.map(([a, b]) => [a, b, 0] as Triple)}
            width={1}
            opacity={0.5}
            dash={0.03}
            gap={0.03}
          />
        </group>
      )}
      {!moves(props) && (
        <Grip
          at={tip}
          small
          along={along}
          says={saying(props)}
          onDrag={(p) => set(p.sub(foot).dot(along) / grip.per)}
          onEnd={finish}
        />
      )}
    </>
  );
}

/** A place, with a line from where it is counted. */
function Spot(props: One) {
  const { grip, change, finish, triple, values, size } = props;
  const foot = footOf(grip, props);
  const at = new THREE.Vector3(...triple(grip.value)).add(foot);
  return (
    <>
      {grip.foot.length > 0 && at.distanceTo(foot) > 1e-6 && (
        <HandleLine points={[foot, at]} dash={size * 0.05} gap={size * 0.04} />
      )}
      <Grip
        at={at}
        says={values[grip.value].label}
        onDrag={(p) => change({ [grip.value]: p.sub(foot).toArray().map(round) })}
        onEnd={finish}
      />
    </>
  );
}

const SQUARE: Triple[] = [
  [-1, -1, 0],
  [1, -1, 0],
  [1, 1, 0],
  [-1, 1, 0],
  [-1, -1, 0],
];

/** A place with the plane through it, and the arrow that turns the plane. */
function Plane(props: One) {
  const { grip, triple, change, finish, size } = props;
  const at = new THREE.Vector3(...triple(grip.value)).add(footOf(grip, props));
  const across = alongOf(grip, props);
  const { along } = grip;
  return (
    <>
      <group position={at} quaternion={frameOf(across)} scale={size * 0.7}>
        <HandleLine points={SQUARE} opacity={0.85} />
        <mesh renderOrder={8} raycast={() => null}>
          <planeGeometry args={[2, 2]} />
          <meshBasicMaterial
            color={HANDLE}
            side={THREE.DoubleSide}
            transparent
            opacity={0.08}
            depthWrite={false}
            toneMapped={false}
          />
        </mesh>
      </group>
      <Spot {...props} />
      {typeof along === "string" && (
        <DirectionGrip
          from={at}
          direction={across}
          length={size * 0.5}
          turn={(way) => change({ [along]: way })}
          onEnd={finish}
        />
      )}
    </>
  );
}

/** An angle on a circle about an axis. */
function Turn(props: One) {
  const radius = props.grip.round ? props.number(props.grip.round) : props.size * 0.5;
  return (
    <Dial
      {...props}
      foot={footOf(props.grip, props)}
      axis={alongOf(props.grip, props)}
      radius={radius}
      colour={HANDLE}
    />
  );
}

/** Three angles, each about the axis that those after it leave it. */
function Gimbal(props: One) {
  const foot = footOf(props.grip, props);
  return gimbalAxes(props.triple(props.grip.value)).map((axis, k) => (
    <Dial
      key={k}
      {...props}
      grip={{ ...props.grip, value: `${props.grip.value}/${k}` }}
      foot={foot}
      axis={axis}
      radius={props.size * (0.6 + 0.06 * k)}
      colour={AXES[k]}
    />
  ));
}

interface DialProps extends One {
  foot: THREE.Vector3;
  axis: THREE.Vector3;
  radius: number;
  colour: string;
}

function Dial({ foot, axis, radius, colour, ...props }: DialProps) {
  const { grip, finish } = props;
  const degrees = readOf(props, grip.value);
  const angle = (degrees * grip.per * Math.PI) / 180;
  const set = changer(props);
  const at = new THREE.Vector3(Math.cos(angle), Math.sin(angle), 0).multiplyScalar(radius);
  return (
    <group position={foot} quaternion={frameOf(axis)}>
      <HandleLine
        points={ROUND.map(([a, b]) => [a * radius, b * radius, 0] as Triple)}
        colour={colour}
        opacity={0.8}
      />
      <HandleLine points={[[0, 0, 0], at.toArray()]} colour={colour} opacity={0.5} />
      {!moves(props) && (
        <Grip
          at={at}
          small
          flat
          colour={colour}
          says={saying(props)}
          onDrag={(p) => {
            const turned = (Math.atan2(p.y, p.x) * 180) / Math.PI / grip.per;
            set(unwound(degrees, turned));
          }}
          onEnd={finish}
        />
      )}
    </group>
  );
}
