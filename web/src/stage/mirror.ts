import * as THREE from "three";
import { Reflector } from "three/addons/objects/Reflector.js";
import { beforeView, wholeViews } from "./beforeView";

/** Pixels of the mirrored picture each way; rougher ground shows a smaller one. */
const SIZE = 768;

const SHADER = {
  name: "MirroringGround",
  uniforms: {
    color: { value: null },
    tDiffuse: { value: null },
    textureMatrix: { value: null },
    strength: { value: 0.5 },
    blur: { value: 0 },
  },
  vertexShader: /* glsl */ `
uniform mat4 textureMatrix;
varying vec4 there;
varying vec3 towards;
varying vec3 up;
void main() {
  there = textureMatrix * vec4(position, 1.0);
  vec4 place = modelViewMatrix * vec4(position, 1.0);
  towards = -place.xyz;
  up = normalMatrix * vec3(0.0, 0.0, 1.0);
  gl_Position = projectionMatrix * place;
}`,
  // More of it along the ground than straight down (Schlick's approximation of Fresnel's law).
  fragmentShader: /* glsl */ `
uniform sampler2D tDiffuse;
uniform float strength;
uniform float blur;
varying vec4 there;
varying vec3 towards;
varying vec3 up;
void main() {
  vec4 seen = vec4(0.0);
  vec2 at = there.xy / there.w;
  // Eight places about the one that is mirrored, out of smaller pictures.
  for (int k = 0; k < 8; k++) {
    float angle = float(k) * 2.3999632;
    vec2 beside = vec2(cos(angle), sin(angle)) * blur * 0.012 * sqrt((float(k) + 0.5) / 8.0);
    seen += textureLod(tDiffuse, at + beside, blur * 3.0) / 8.0;
  }
  float along = 1.0 - abs(dot(normalize(towards), normalize(up)));
  float share = clamp(strength * mix(0.35, 1.0, pow(along, 3.0)), 0.0, 1.0);
  gl_FragColor = vec4(seen.rgb / max(seen.a, 1e-4), seen.a * share);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`,
};

/** A disc that shows what stands on it, mirrored; it lies over the ground that is lit. */
export function makeMirror(radius: number): Reflector {
  const mirror = new Reflector(new THREE.CircleGeometry(radius, 64), {
    textureWidth: SIZE,
    textureHeight: SIZE,
    multisample: 0,
    shader: SHADER,
  });
  const material = mirror.material as THREE.ShaderMaterial;
  material.transparent = true;
  material.depthWrite = false;
  const target = mirror.getRenderTarget();
  target.texture.generateMipmaps = true;
  target.texture.minFilter = THREE.LinearMipmapLinearFilter;
  const draw = mirror.onBeforeRender.bind(mirror);
  mirror.onBeforeRender = (renderer, scene, camera, ...rest) => {
    // Seen from below, other triangles face the eye.
    for (const whole of wholeViews) whole();
    const own = renderer.getClearAlpha();
    renderer.setClearAlpha(0);
    draw(renderer, scene, camera, ...rest);
    renderer.setClearAlpha(own);
    for (const prepare of beforeView) prepare(camera);
  };
  return mirror;
}
