import * as THREE from "three";
import type { Schemas, StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useParts } from "../common/store/store";
import { HandleLine } from "./HandleLine";
import type { Triple } from "./heldValues";
import { PartGrips } from "./PartGrips";
import { useSceneMoment } from "./useMoment";

type Lamp = Schemas["AreaTold"] | Schemas["SpotTold"] | Schemas["PointTold"];

/** Where the light stands that is open in its sheet: its lamp, and what is dragged of it. */
export function LightHandles({ state, size }: { state: StudyState; size: number }) {
  const { sheet, light: chosen, playing } = useParts("sheet", "light", "playing");
  const catalogue = useCatalogue().data;
  const { lamps } = useSceneMoment(state);
  const light = documentOf(state).lights?.find((l) => l.id === chosen);
  const entry = catalogue?.lights.find((d) => d.key === light?.light);
  if (sheet !== "light" || playing || !light || !entry) return null;
  const own = lamps.filter((lamp): lamp is Lamp => lamp.light === light.id && "position" in lamp);
  return (
    <>
      {own.map((lamp, k) => (
        <LampOutline key={k} lamp={lamp} size={size} />
      ))}
      <PartGrips
        state={state}
        size={size}
        address={`/lights/${light.id}`}
        part={light}
        entry={entry}
      />
    </>
  );
}

const SQUARE: Triple[] = [
  [-0.5, -0.5, 0],
  [0.5, -0.5, 0],
  [0.5, 0.5, 0],
  [-0.5, 0.5, 0],
  [-0.5, -0.5, 0],
];
const ROUND: Triple[] = Array.from({ length: 49 }, (_, k) => {
  const angle = (k / 48) * 2 * Math.PI;
  return [Math.cos(angle) / 2, Math.sin(angle) / 2, 0];
});

/** The face that shines, or a ring about a small lamp, and the way to what it shines at. */
function LampOutline({ lamp, size }: { lamp: Lamp; size: number }) {
  const at = new THREE.Vector3().fromArray(lamp.position);
  const target = "target" in lamp ? new THREE.Vector3().fromArray(lamp.target) : null;
  const turned = new THREE.Object3D();
  if (target) {
    turned.position.copy(at);
    // Of what is no lamp, z is turned to what it faces.
    turned.lookAt(target);
  }
  const [wide, high] =
    lamp.kind === "area"
      ? [lamp.width, lamp.height]
      : [Math.max(lamp.radius * 2, size * 0.08), Math.max(lamp.radius * 2, size * 0.08)];
  const round = lamp.kind !== "area" || lamp.round;
  return (
    <>
      <group position={at} quaternion={turned.quaternion} scale={[wide, high, 1]}>
        <HandleLine points={round ? ROUND : SQUARE} width={1.5} />
      </group>
      {target && at.distanceTo(target) > 1e-6 && (
        <HandleLine points={[at, target]} dash={size * 0.05} gap={size * 0.04} />
      )}
    </>
  );
}
