import * as THREE from "three";
import { COLOUR_OF_VALUE, DECODE, type SurfaceUniforms } from "./material";

/**
 * The surface for machines that draw in software, while something moves. Light, colour and tone
 * are found once a point instead of once a pixel; with triangles of a few pixels there is hardly
 * a difference to see, and it takes a fifth of the time.
 *
 * Lambert's diffuse and the GGX highlight as in three.js's standard material (B. Walter et al.,
 * "Microfacet Models for Refraction through Rough Surfaces", EGSR 2007).
 */

/** What stands on the screen, found at a point instead of a pixel. */
export const SHOWN = /* glsl */ `
#define TONE_MAPPING
#include <tonemapping_pars_fragment>
// The screen's curve, IEC 61966-2-1; three.js gives it to fragment shaders only.
vec3 toScreen(vec3 c) {
  vec3 low = vec3(lessThanEqual(c, vec3(0.0031308)));
  return mix(1.055 * pow(c, vec3(0.41666)) - 0.055, c * 12.92, low);
}
`;

const VERTEX = /* glsl */ `
#include <common>
#include <lights_pars_begin>
${SHOWN}
${DECODE}
${COLOUR_OF_VALUE}
attribute float value;
attribute float mask;
uniform vec3 uColour;
uniform float uRoughness;
uniform float uGlow;
uniform float uSide;
varying vec3 vColour;

float highlight(vec3 l, vec3 v, vec3 n) {
  // The least roughness of the standard material, below which highlights would flicker.
  float alpha = pow2(max(uRoughness, 0.0525));
  vec3 h = normalize(l + v);
  float nl = saturate(dot(n, l)), nv = saturate(dot(n, v)), nh = saturate(dot(n, h));
  float a2 = pow2(alpha);
  float see = 0.5 / max(
    nl * sqrt(a2 + (1.0 - a2) * pow2(nv)) + nv * sqrt(a2 + (1.0 - a2) * pow2(nl)), EPSILON);
  float spread = RECIPROCAL_PI * a2 / pow2(pow2(nh) * (a2 - 1.0) + 1.0);
  float fresnel = 0.04 + 0.96 * pow(1.0 - saturate(dot(v, h)), 5.0);
  return see * spread * fresnel;
}

vec3 lit(vec3 colour, vec3 n, vec3 v) {
  vec3 diffuse = colour * RECIPROCAL_PI;
  vec3 light = vec3(0.0);
#if NUM_HEMI_LIGHTS > 0
  for (int k = 0; k < NUM_HEMI_LIGHTS; k++)
    light += diffuse * getHemisphereLightIrradiance(hemisphereLights[k], n);
#endif
#if NUM_DIR_LIGHTS > 0
  for (int k = 0; k < NUM_DIR_LIGHTS; k++) {
    vec3 l = directionalLights[k].direction;
    vec3 arrives = saturate(dot(n, l)) * directionalLights[k].color;
    light += arrives * (diffuse + highlight(l, v, n));
  }
#endif
  return toScreen(NeutralToneMapping(light + colour * uGlow * (1.0 - uHeat)));
}

void main() {
  vec3 at = placed(uLow + position * uSize);
  vec4 place = modelViewMatrix * vec4(at, 1.0);
  gl_Position = projectionMatrix * place;
  vec3 n = normalize(normalMatrix * placedNormal(decodeNormal(normal.xy)));
  vec3 v = normalize(-place.xyz);
  vec3 colour = colourOf(uColour, copyColour(value, at), copyHeat(mask));
  // The side that is seen is told by the normal, which saves lighting both. At a rim normals of the
  // side that is seen turn away a little.
  float side = uSide != 0.0 ? uSide : (dot(n, v) < -0.2 ? -1.0 : 1.0);
  vColour = lit(colour, side * n, v);
}
`;

const FRAGMENT = /* glsl */ `
varying vec3 vColour;
void main() {
  gl_FragColor = vec4(vColour, 1.0);
}
`;

export function makeQuick(uniforms: SurfaceUniforms): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    lights: true,
    side: THREE.DoubleSide,
    toneMapped: false,
    uniforms: { ...THREE.UniformsUtils.clone(THREE.UniformsLib.lights), ...uniforms },
  });
}
