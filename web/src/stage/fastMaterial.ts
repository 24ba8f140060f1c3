import * as THREE from "three";
import {
  LIT_SPHERE,
  LOOK_BLENDING,
  LOOK_COLOURS,
  LOOK_VERTEX,
  MOST_CHANNELS,
  TAKE_CHANNELS,
} from "./lookShader";
import { DECODE, HEAT, type SurfaceUniforms } from "./material";

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

/** How light falls on a surface: Lambert's diffuse and the GGX highlight, of metal in its colour. */
const LIT = /* glsl */ `
float highlight(vec3 l, vec3 v, vec3 n, float roughness) {
  // The least roughness of the standard material, below which highlights would flicker.
  float alpha = pow2(max(roughness, 0.0525));
  vec3 h = normalize(l + v);
  float nl = saturate(dot(n, l)), nv = saturate(dot(n, v)), nh = saturate(dot(n, h));
  float a2 = pow2(alpha);
  float see = 0.5 / max(
    nl * sqrt(a2 + (1.0 - a2) * pow2(nv)) + nv * sqrt(a2 + (1.0 - a2) * pow2(nl)), EPSILON);
  float spread = RECIPROCAL_PI * a2 / pow2(pow2(nh) * (a2 - 1.0) + 1.0);
  return see * spread;
}
// What comes back of light from a direction.
vec3 sent(vec3 l, vec3 colour, vec3 ground, vec3 n, vec3 v, float roughness, float metal) {
  vec3 h = normalize(l + v);
  vec3 fresnel = ground + (1.0 - ground) * pow(1.0 - saturate(dot(v, h)), 5.0);
  vec3 shine = highlight(l, v, n, roughness) * fresnel;
  return saturate(dot(n, l)) * (colour * RECIPROCAL_PI * (1.0 - metal) + shine);
}
// at : the point as the eye sees it
vec3 lit(vec3 colour, vec3 own, vec3 at, vec3 n, vec3 v, float roughness, float metal) {
  vec3 diffuse = colour * RECIPROCAL_PI;
  vec3 ground = mix(vec3(0.04), colour, metal);
  vec3 light = vec3(0.0);
#ifdef USE_LIGHT_PROBES
  light += diffuse * (1.0 - metal) * getLightProbeIrradiance(lightProbe, n);
  light += diffuse * metal * getLightProbeIrradiance(lightProbe, reflect(-v, n));
#endif
#if NUM_HEMI_LIGHTS > 0
  for (int k = 0; k < NUM_HEMI_LIGHTS; k++) {
    light += diffuse * (1.0 - metal) * getHemisphereLightIrradiance(hemisphereLights[k], n);
    // What metal throws back of the sky comes from where it is reflected.
    light += diffuse * metal * getHemisphereLightIrradiance(hemisphereLights[k], reflect(-v, n));
  }
#endif
#if NUM_DIR_LIGHTS > 0
  for (int k = 0; k < NUM_DIR_LIGHTS; k++) {
    vec3 l = directionalLights[k].direction;
    light += directionalLights[k].color * sent(l, colour, ground, n, v, roughness, metal);
  }
#endif
#if NUM_POINT_LIGHTS > 0
  for (int k = 0; k < NUM_POINT_LIGHTS; k++) {
    IncidentLight near;
    getPointLightInfo(pointLights[k], at, near);
    light += near.color * sent(near.direction, colour, ground, n, v, roughness, metal);
  }
#endif
#if NUM_SPOT_LIGHTS > 0
  for (int k = 0; k < NUM_SPOT_LIGHTS; k++) {
    IncidentLight near;
    getSpotLightInfo(spotLights[k], at, near);
    light += near.color * sent(near.direction, colour, ground, n, v, roughness, metal);
  }
#endif
#if NUM_RECT_AREA_LIGHTS > 0
  // As if all of it came from its middle, less sharp the larger it is.
  for (int k = 0; k < NUM_RECT_AREA_LIGHTS; k++) {
    RectAreaLight area = rectAreaLights[k];
    vec3 way = area.position - at;
    float far = max(dot(way, way), 1e-6);
    vec3 l = way * inversesqrt(far);
    vec3 across = cross(area.halfWidth, area.halfHeight) * 4.0;
    float share = max(dot(across, l), 0.0) / far;
    float blur = clamp(roughness + sqrt(length(across) / far) * 0.5, 0.0, 1.0);
    light += area.color * share * sent(l, colour, ground, n, v, blur, metal);
  }
#endif
  return light + own;
}
`;

/** What pixels need to find patterns by themselves. */
const LIT_OUT = /* glsl */ `
#ifdef PRINTED
varying vec3 vLight;
varying vec3 vShine;
varying vec4 vChannelsA;
varying vec4 vChannelsB;
varying vec4 vChannelsC;
varying vec3 vPrintAt;
varying vec3 vPrintRest;
varying vec3 vPrintUv;
varying vec4 vPrintSeen;
#endif
`;

const VERTEX = /* glsl */ `
#include <common>
#include <lights_pars_begin>
${SHOWN}
${DECODE}
${LOOK_VERTEX}
${LOOK_COLOURS}
${HEAT}
${LIT}
${LIT_SPHERE}
attribute float mask;
uniform float uSide;
varying vec4 vColour;
${LIT_OUT}

void main() {
  vec3 at = placed(uLow + position * uSize);
  vec4 place = modelViewMatrix * vec4(at, 1.0);
  gl_Position = projectionMatrix * place;
  vec3 n = normalize(normalMatrix * placedNormal(decodeNormal(normal.xy)));
  vec3 v = normalize(-place.xyz);
  float c[${MOST_CHANNELS}];
  float a[8];
#ifdef PRINTED
  findPrints(uLow + position * uSize, printRest, printUv, seenAt(gl_Position));
#endif
  findChannels(at, n, v, length(place.xyz), value, channelsA, channelsB, c);
  findAmounts(c, a);
  vec4 ca = vec4(c[0], c[1], c[2], c[3]);
  vec4 cb = vec4(c[4], c[5], c[6], c[7]);
  vec4 cc = vec4(c[8], c[9], c[10], c[11]);
  vec3 colour = heated(colourOfLooks(0, ca, cb, cc), copyHeat(mask));
  vec3 own = colourOfLooks(1, ca, cb, cc) * a[3] * (1.0 - uHeat) + colour * heatOwn();
  colour *= 1.0 - heatOwn();
  // The side that is seen is told by the normal, which saves lighting both. At a rim normals of the
  // side that is seen turn away a little.
  float side = uSide != 0.0 ? uSide : (dot(n, v) < -0.2 ? -1.0 : 1.0);
  // Glass is see-through here, the more the less it is looked at along its surface.
  float glass = a[4] * (0.35 + 0.5 * abs(dot(n, v)));
  float hides = mix(a[2] * (1.0 - glass), 1.0, uHeat);
#ifdef PRINTED
  // Light is found at the points, patterns at the pixels.
  vLight = lit(vec3(1.0), vec3(0.0), place.xyz, side * n, v, a[0], a[1] * 0.5);
#ifdef LIT_SPHERE
  vLight = onSphere(side * n, v);
#endif
  vShine = vec3(a[3] * (1.0 - uHeat), copyHeat(mask), hides);
  vChannelsA = ca;
  vChannelsB = cb;
  vChannelsC = cc;
  vPrintAt = uLow + position * uSize;
  vPrintRest = printRest;
  vPrintUv = vec3(printUv, length(place.xyz));
  vPrintSeen = vec4(gl_Position.xyw, dot(n, v));
  vPrintSeen.x *= projectionMatrix[1][1] / projectionMatrix[0][0];
#endif
  vec3 shown = lit(colour, own, place.xyz, side * n, v, a[0], a[1]);
#ifdef LIT_SPHERE
  shown = colour * onSphere(side * n, v) + own;
#endif
  vColour = vec4(toScreen(NeutralToneMapping(shown)), hides);
}
`;

const FRAGMENT = /* glsl */ `
varying vec4 vColour;
#ifdef PRINTED
#include <common>
#define PRINT_PIXELS
${LOOK_BLENDING}
${LOOK_COLOURS}
${HEAT}
${SHOWN}
${LIT_OUT}
#endif
void main() {
  gl_FragColor = vColour;
#ifdef PRINTED
  findPrints(vPrintAt, vPrintRest, vPrintUv.xy, vPrintSeen.xy / vPrintSeen.z * 0.5);
  ${TAKE_CHANNELS}
  viewChannels(vPrintSeen.w, vPrintUv.z, c);
  vec4 ca = vec4(c[0], c[1], c[2], c[3]);
  vec4 cb = vec4(c[4], c[5], c[6], c[7]);
  vec4 cc = vec4(c[8], c[9], c[10], c[11]);
  vec3 colour = heated(colourOfLooks(0, ca, cb, cc), vShine.y);
  vec3 own = colourOfLooks(1, ca, cb, cc) * vShine.x + colour * heatOwn();
  colour *= 1.0 - heatOwn();
  gl_FragColor = vec4(toScreen(NeutralToneMapping(colour * vLight + own)), vShine.z);
#endif
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
