import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useRef } from "react";
import * as THREE from "three";
import { RectAreaLightUniformsLib } from "three/addons/lights/RectAreaLightUniformsLib.js";
import type { Schemas, StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { areaShadows } from "./areaShadows";
import { Ground } from "./Ground";
import { useDetail } from "./useDetail";
import { useSceneMoment } from "./useMoment";
import { type SceneMoment } from "../common/sceneMoment";

RectAreaLightUniformsLib.init();

type Lamp = SceneMoment["lamps"][number];
type Around = { middle: THREE.Vector3; radius: number };

/** Lamps that throw shadows at most; each takes a picture of its own from the graphics card. */
const MOST_SHADOWS = 4;

/** Light of a study around all that is shown, which is in a box. Where the machine is slow, shadows
 * wait until nothing moves. */
export function Lighting({ state, box }: { state: StudyState; box: THREE.Box3 }) {
  const invalidate = useThree((s) => s.invalidate);
  const { lamps, ground, finish } = useSceneMoment(state);
  const playing = useInterface((s) => s.playing || s.dragging);
  const quick = useDetail((s) => s.moving && s.level > 0);
  const gl = useThree((s) => s.gl);
  // Turning the view leaves shadows as they are; only what moves the surface would change them.
  const shadow = !(quick && playing);
  const empty = box.isEmpty();
  const middle = empty ? new THREE.Vector3() : box.getCenter(new THREE.Vector3());
  const radius = empty ? 1 : Math.max(box.getSize(new THREE.Vector3()).length() / 2, 0.05);
  const floor = empty ? -1 : box.min.y - radius * 0.02;
  const casting = new Set(lamps.filter(castsShadow).slice(0, MOST_SHADOWS));
  // Areas with a shadow stand first: their shadows are found by their numbers.
  const ordered = [...lamps].sort((a, b) => areaFirst(b, casting) - areaFirst(a, casting));
  areaShadows.value = ordered.filter((lamp) => areaFirst(lamp, casting)).length;
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, shadow, lamps, ground, invalidate]);
  useLayoutEffect(() => {
    gl.toneMappingExposure = finish.exposure;
    invalidate();
  }, [gl, finish, invalidate]);
  return (
    <>
      {ordered.map((lamp) => (
        <LampLight
          key={`${lamp.light}/${lamps.indexOf(lamp)}`}
          lamp={lamp}
          around={{ middle, radius }}
          shadow={casting.has(lamp)}
        />
      ))}
      <Ground
        ground={ground}
        middle={middle}
        radius={radius}
        floor={floor}
        shadow={shadow && casting.size > 0}
        quick={quick}
      />
    </>
  );
}

function castsShadow(lamp: Lamp): boolean {
  return lamp.kind !== "sky" && lamp.kind !== "dome" && lamp.shadow;
}

function areaFirst(lamp: Lamp, casting: Set<Lamp>): number {
  return lamp.kind === "area" && casting.has(lamp) ? 1 : 0;
}

/** One lamp as three.js has it. */
function LampLight({ lamp, around, shadow }: { lamp: Lamp; around: Around; shadow: boolean }) {
  switch (lamp.kind) {
    case "sky":
      return (
        <hemisphereLight
          position={new THREE.Vector3().fromArray(lamp.towards)}
          color={lamp.colour}
          groundColor={lamp.below}
          intensity={lamp.strength}
        />
      );
    case "dome":
      return <Dome lamp={lamp} />;
    case "sun":
      return <Sun lamp={lamp} around={around} shadow={shadow} />;
    case "point":
      return <Point lamp={lamp} around={around} shadow={shadow} />;
    case "spot":
      return (
        <Spot
          lamp={lamp}
          around={around}
          shadow={shadow}
          intensity={lamp.strength / (4 * Math.PI)}
          softness={lamp.radius}
          body={lamp.radius}
        />
      );
    case "area":
      return <Area lamp={lamp} around={around} shadow={shadow} />;
  }
}

/** What arrives of a picture all round on matt surfaces; shiny ones show the picture itself. */
function Dome({ lamp }: { lamp: Schemas["DomeTold"] }) {
  const own = useRef<THREE.LightProbe>(null);
  useLayoutEffect(() => {
    lamp.harmonics.forEach((each, k) => own.current?.sh.coefficients[k].fromArray(each));
  });
  return <lightProbe ref={own} />;
}

interface Of<Told> {
  lamp: Told;
  around: Around;
  shadow: boolean;
}

/** Enough that a dense grid does not shade itself in stripes. */
function settle(shadow: THREE.LightShadow, { radius }: Around, soft: number) {
  shadow.normalBias = radius * 0.02;
  shadow.bias = -0.002;
  shadow.radius = Math.min(12, 1 + (soft / radius) * 40);
}

/** Parallel light, and a soft shadow of all that is within a radius. */
function Sun({ lamp, around, shadow }: Of<Schemas["SunTold"]>) {
  const own = useRef<THREE.DirectionalLight>(null);
  const { middle, radius } = around;
  useLayoutEffect(() => {
    const light = own.current;
    if (!light) return;
    light.target.position.copy(middle);
    light.target.updateMatrixWorld();
    const towards = new THREE.Vector3().fromArray(lamp.towards);
    light.position.copy(middle).addScaledVector(towards, radius * DISTANCE);
    const camera = light.shadow.camera;
    camera.left = camera.bottom = -radius * 1.3;
    camera.right = camera.top = radius * 1.3;
    camera.near = radius * 0.5;
    camera.far = radius * 7;
    camera.updateProjectionMatrix();
    light.shadow.normalBias = radius * 0.05;
    light.shadow.bias = -0.004;
  });
  return (
    <directionalLight
      ref={own}
      color={lamp.colour}
      intensity={lamp.strength}
      castShadow={shadow}
      shadow-mapSize={[1024, 1024]}
      shadow-radius={5}
    />
  );
}

function Point({ lamp, around, shadow }: Of<Schemas["PointTold"]>) {
  const own = useRef<THREE.PointLight>(null);
  useLayoutEffect(() => {
    const light = own.current;
    if (!light) return;
    light.position.fromArray(lamp.position);
    light.shadow.camera.near = Math.max(around.radius * 0.01, lamp.radius, 0.001);
    light.shadow.camera.far = light.position.distanceTo(around.middle) + around.radius * 2;
    light.shadow.camera.updateProjectionMatrix();
    settle(light.shadow, around, lamp.radius);
  });
  return (
    <pointLight
      ref={own}
      color={lamp.colour}
      intensity={lamp.strength / (4 * Math.PI)}
      decay={2}
      castShadow={shadow}
      shadow-mapSize={[512, 512]}
    />
  );
}

interface Cone {
  position: number[];
  target: number[];
  colour: string;
  angle: number;
  edge: number;
}

/** body : radius of what shines, within which nothing throws a shadow */
function Spot(props: Of<Cone> & { intensity: number; softness: number; body: number }) {
  const { lamp, around, shadow } = props;
  const own = useRef<THREE.SpotLight>(null);
  useLayoutEffect(() => {
    const light = own.current;
    if (!light) return;
    light.position.fromArray(lamp.position);
    light.target.position.fromArray(lamp.target);
    light.target.updateMatrixWorld();
    light.shadow.camera.near = Math.max(around.radius * 0.02, props.body, 0.001);
    light.shadow.camera.far = light.position.distanceTo(around.middle) + around.radius * 3;
    light.shadow.camera.updateProjectionMatrix();
    settle(light.shadow, around, props.softness);
  });
  return (
    <spotLight
      ref={own}
      color={lamp.colour}
      intensity={props.intensity}
      angle={(lamp.angle * Math.PI) / 360}
      penumbra={lamp.edge}
      decay={2}
      castShadow={shadow}
      shadow-mapSize={[1024, 1024]}
    />
  );
}

/** Across which the shadow of an area is looked for, degrees. */
const AREA_CONE = 150;

/** A rectangle, or for a disc the square of the same area; its shadow is that of a spot in its
 * middle, which gives no light itself. */
function Area({ lamp, around, shadow }: Of<Schemas["AreaTold"]>) {
  const own = useRef<THREE.RectAreaLight>(null);
  const side = lamp.round ? Math.sqrt(Math.PI) / 2 : 1;
  useLayoutEffect(() => {
    const light = own.current;
    if (!light) return;
    light.position.fromArray(lamp.position);
    light.lookAt(new THREE.Vector3().fromArray(lamp.target));
    light.updateMatrixWorld();
  });
  return (
    <>
      {shadow && (
        <Spot
          lamp={{ ...lamp, angle: AREA_CONE, edge: 1 }}
          around={around}
          shadow
          intensity={0}
          softness={Math.sqrt(lamp.width * lamp.height) / 2}
          body={0}
        />
      )}
      <rectAreaLight
        ref={own}
        color={lamp.colour}
        intensity={lamp.radiance}
        width={lamp.width * side}
        height={lamp.height * side}
      />
    </>
  );
}

/** Of a sun from what it lights, in radii of it: its shadow's rays begin outside of everything. */
const DISTANCE = 3.6;
