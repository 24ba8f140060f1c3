import * as THREE from "three";
import type { SceneMoment } from "../common/sceneMoment";

/** Skies and domes as balls seen from inside, which shiny surfaces throw back. */

export type Lamp = SceneMoment["lamps"][number];

/** Directions of a ball seen from inside. */
const FROM_INSIDE = /* glsl */ `
varying vec3 way;
void main() {
  way = position;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

/** A ball seen from inside, lit as the sky lamps light a surface. */
export function makeSky() {
  const uniforms = {
    above: { value: new THREE.Color() },
    below: { value: new THREE.Color() },
    up: { value: new THREE.Vector3(0, 1, 0) },
  };
  const material = new THREE.ShaderMaterial({
    uniforms,
    side: THREE.BackSide,
    depthWrite: false,
    vertexShader: FROM_INSIDE,
    // A sky with a horizon: brighter low down, as it is.
    fragmentShader: /* glsl */ `
uniform vec3 above;
uniform vec3 below;
uniform vec3 up;
varying vec3 way;
void main() {
  float height = dot(normalize(way), up);
  float share = smoothstep(-0.12, 0.12, height);
  vec3 sky = above * mix(1.25, 0.85, smoothstep(0.0, 0.9, height));
  gl_FragColor = vec4(mix(below, sky, share), 1.0);
}`,
  });
  const scene = new THREE.Scene();
  const ball = new THREE.Mesh(new THREE.SphereGeometry(10, 24, 16), material);
  scene.add(ball);
  return { scene, ball, material, uniforms };
}

/** The light of all skies together, as radiance: a white matt surface is as bright by it. */
export function skyOf(lamps: Lamp[]) {
  const above = new THREE.Color(0, 0, 0);
  const below = new THREE.Color(0, 0, 0);
  const up = new THREE.Vector3();
  for (const lamp of lamps) {
    if (lamp.kind !== "sky") continue;
    const each = lamp.strength / Math.PI;
    above.add(new THREE.Color(lamp.colour).multiplyScalar(each));
    below.add(new THREE.Color(lamp.below).multiplyScalar(each));
    up.add(new THREE.Vector3().fromArray(lamp.towards).multiplyScalar(lamp.strength));
  }
  return { above, below, up: up.lengthSq() > 0 ? up.normalize() : up.set(0, 1, 0) };
}

export const isAround = (lamp: Lamp) => lamp.kind === "sky" || lamp.kind === "dome";

/** Where the light of all domes is fetched from. */
export function domesOf(lamps: Lamp[]): string[] {
  return lamps.flatMap((lamp) => (lamp.kind === "dome" ? [lamp.picture] : []));
}

/** Each dome as a ball seen from inside, added to the sky. */
export function hangDomes(
  scene: THREE.Scene,
  lamps: Lamp[],
  textures: Record<string, THREE.Texture>,
) {
  for (const old of scene.children.slice(1) as THREE.Mesh<THREE.BufferGeometry, THREE.Material>[]) {
    scene.remove(old);
    old.geometry.dispose();
    old.material.dispose();
  }
  for (const lamp of lamps) {
    if (lamp.kind !== "dome") continue;
    const material = new THREE.ShaderMaterial({
      uniforms: {
        light: { value: textures[lamp.picture] },
        strength: { value: lamp.strength },
        axes: { value: new THREE.Matrix3().fromArray(lamp.axes.flat()) },
      },
      side: THREE.BackSide,
      blending: THREE.AdditiveBlending,
      depthWrite: false,
      depthTest: false,
      vertexShader: FROM_INSIDE,
      // The rows of the matrix came as columns: so it goes from the stage to the picture.
      fragmentShader: /* glsl */ `
uniform sampler2D light;
uniform float strength;
uniform mat3 axes;
varying vec3 way;
void main() {
  vec3 d = axes * normalize(way);
  vec2 at = vec2(atan(d.x, -d.z) / 6.283185307 + 0.5, 0.5 - asin(clamp(d.y, -1.0, 1.0)) / 3.141592654);
  gl_FragColor = vec4(textureLod(light, at, 0.0).rgb * strength, 1.0);
}`,
    });
    const ball = new THREE.Mesh(new THREE.SphereGeometry(9, 48, 32), material);
    ball.renderOrder = 1;
    scene.add(ball);
  }
}
