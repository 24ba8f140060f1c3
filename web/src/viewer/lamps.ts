import * as THREE from "three";
import { RectAreaLightUniformsLib } from "three/addons/lights/RectAreaLightUniformsLib.js";
import { makeSky, skyOf } from "../stage/sky";
import type { Lamp, Told } from "./told";

const DISTANCE = 4;
/** Lamps that throw shadows at most. */
const MOST_SHADOWS = 3;

/** Lights of the study around what is shown. */
export function hang(scene: THREE.Scene, told: Told, box: THREE.Box3) {
  RectAreaLightUniformsLib.init();
  const middle = box.getCenter(new THREE.Vector3());
  const radius = Math.max(box.getSize(new THREE.Vector3()).length() / 2, 0.05);
  let shadows = 0;
  for (const lamp of told.lamps) {
    const made = lightOf(lamp, middle, radius) as
      (THREE.Light & { shadow?: THREE.LightShadow }) | null;
    if (!made) continue;
    scene.add(made);
    if ("target" in made) scene.add(made.target as THREE.Object3D);
    if ("shadow" in lamp && lamp.shadow && made.shadow && shadows < MOST_SHADOWS) {
      shadows += 1;
      made.castShadow = true;
      made.shadow.mapSize.set(1024, 1024);
      made.shadow.normalBias = radius * 0.04;
      made.shadow.bias = -0.003;
      made.shadow.radius = 4;
      reachOf(made.shadow.camera, radius, made.position.distanceTo(middle));
    }
  }
}

function reachOf(camera: THREE.Camera, radius: number, away: number) {
  if (camera instanceof THREE.OrthographicCamera) {
    camera.left = camera.bottom = -radius * 1.3;
    camera.right = camera.top = radius * 1.3;
  }
  if (camera instanceof THREE.OrthographicCamera || camera instanceof THREE.PerspectiveCamera) {
    camera.near = Math.max(radius * 0.02, 0.001);
    camera.far = away + radius * 3;
    camera.updateProjectionMatrix();
  }
}

function lightOf(lamp: Lamp, middle: THREE.Vector3, radius: number): THREE.Light | null {
  switch (lamp.kind) {
    case "sun": {
      const sun = new THREE.DirectionalLight(lamp.colour, lamp.strength);
      sun.target.position.copy(middle);
      const towards = new THREE.Vector3().fromArray(lamp.towards);
      sun.position.copy(middle).addScaledVector(towards, radius * DISTANCE);
      return sun;
    }
    case "point": {
      const point = new THREE.PointLight(lamp.colour, lamp.strength / (4 * Math.PI), 0, 2);
      point.position.fromArray(lamp.position);
      return point;
    }
    case "spot": {
      const spot = new THREE.SpotLight(
        lamp.colour,
        lamp.strength / (4 * Math.PI),
        0,
        (lamp.angle * Math.PI) / 360,
        lamp.edge,
        2,
      );
      spot.position.fromArray(lamp.position);
      spot.target.position.fromArray(lamp.target);
      return spot;
    }
    case "area": {
      const area = new THREE.RectAreaLight(lamp.colour, lamp.radiance, lamp.width, lamp.height);
      area.position.fromArray(lamp.position);
      area.lookAt(new THREE.Vector3().fromArray(lamp.target));
      return area;
    }
    case "dome":
      return new THREE.LightProbe(
        new THREE.SphericalHarmonics3().set(
          lamp.harmonics.map((each) => new THREE.Vector3().fromArray(each)),
        ),
      );
    case "sky":
      // All skies together are what is around, which lights as well.
      return null;
  }
}

/** Skies as what shiny surfaces throw back and matt ones are lit by. */
export function around(gl: THREE.WebGLRenderer, told: Told): THREE.Texture {
  const { scene, uniforms } = makeSky();
  const skies = told.lamps.flatMap((lamp) => (lamp.kind === "sky" ? [{ ...lamp, light: "" }] : []));
  const { above, below, up } = skyOf(skies);
  uniforms.above.value.copy(above);
  uniforms.below.value.copy(below);
  uniforms.up.value.copy(up);
  const made = new THREE.PMREMGenerator(gl).fromScene(scene, 0, 0.1, 100);
  return made.texture;
}
