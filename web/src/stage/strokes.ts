import * as THREE from "three";
import { release } from "./keptShaders";
import { COLOUR_OF_VALUE, DECODE, type SurfaceUniforms } from "./material";
import { SHOWN } from "./fastMaterial";

/**
 * Curves as round strokes and loose points as discs, both of a thickness in metres. A stroke is a
 * strip that faces the camera, shaded across as a rod would be.
 */

/** Pixels below which a stroke would flicker instead of growing thinner. */
const LEAST_PX = 1.3;

const PIXELS = /* glsl */ `
uniform float uThickness;
uniform vec2 uScreen;
// What the thickness measures on the screen at a distance, in pixels.
float pixelsAt(float w) {
  return max(uThickness * projectionMatrix[1][1] * uScreen.y * 0.5 / w, ${LEAST_PX.toFixed(1)});
}
`;

const ROD = /* glsl */ `
uniform vec3 uColour;
uniform float uGlow;
// How much of the light a rod's side takes, and what it looks like then.
float facing(vec3 n) {
  return max(dot(n, normalize(vec3(0.4, 0.7, 0.6))), 0.0);
}
vec3 rod(float facing, float value, float mask) {
  return colourOf(uColour, value, mask) * (0.42 + 0.72 * facing + uGlow * (1.0 - uHeat));
}
`;

const STROKE_VERTEX = /* glsl */ `
${DECODE}
${PIXELS}
attribute vec4 begin;
attribute vec4 end;
attribute vec2 masks;
varying float vAcross;
varying vec2 vSideways;
varying float vValue;
varying float vMask;
void main() {
  mat4 seen = projectionMatrix * modelViewMatrix;
  vec4 a = seen * vec4(uLow + begin.xyz * uSize, 1.0);
  vec4 b = seen * vec4(uLow + end.xyz * uSize, 1.0);
  vec2 half_ = uScreen * 0.5;
  vec2 way = b.xy / b.w * half_ - a.xy / a.w * half_;
  way = length(way) > 1e-4 ? normalize(way) : vec2(1.0, 0.0);
  vec2 sideways = vec2(-way.y, way.x);
  bool last = position.x > 0.5;
  vec4 own = last ? b : a;
  float radius = 0.5 * pixelsAt(own.w);
  // A little longer, so that there is no gap where the curve turns.
  vec2 shift = sideways * position.y * radius + way * (last ? 0.3 : -0.3) * radius;
  gl_Position = own + vec4(shift / half_ * own.w, 0.0, 0.0);
  if (a.w <= 0.0 || b.w <= 0.0) gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
  vAcross = position.y;
  vSideways = sideways;
  vValue = last ? end.w : begin.w;
  vMask = last ? masks.y : masks.x;
}
`;

const STROKE_FRAGMENT = /* glsl */ `
${COLOUR_OF_VALUE}
${ROD}
varying float vAcross;
varying vec2 vSideways;
varying float vValue;
varying float vMask;
void main() {
  vec3 n = vec3(vSideways * vAcross, sqrt(max(1.0 - vAcross * vAcross, 0.0)));
  gl_FragColor = vec4(rod(facing(n), vValue, vMask), 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}
`;

const DISC_VERTEX = /* glsl */ `
${DECODE}
${PIXELS}
attribute float value;
attribute float mask;
varying float vValue;
varying float vMask;
varying float vPixels;
void main() {
  vec3 at = placed(uLow + position * uSize);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(at, 1.0);
  vPixels = pixelsAt(gl_Position.w);
  gl_PointSize = vPixels;
  vValue = copyColour(value, at);
  vMask = copyHeat(mask);
}
`;

const DISC_FRAGMENT = /* glsl */ `
${COLOUR_OF_VALUE}
${ROD}
varying float vValue;
varying float vMask;
varying float vPixels;
void main() {
  vec2 at = gl_PointCoord * 2.0 - 1.0;
  float far = dot(at, at);
  // A disc of two or three pixels is its square.
  if (vPixels > 3.0 && far > 1.0) discard;
  vec3 n = vec3(at.x, -at.y, sqrt(max(1.0 - far, 0.0)));
  float light = facing(vPixels > 3.0 ? n : vec3(0.0, 0.7, 0.7));
  gl_FragColor = vec4(rod(light, vValue, vMask), 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}
`;

/**
 * The same for machines that draw in software, while something moves: how a disc looks in shade and
 * in light is found once a point, and each pixel only lies between the two.
 */
const QUICK_VERTEX = DISC_VERTEX.replace(
  "void main() {",
  /* glsl */ `
#include <common>
${SHOWN}
${COLOUR_OF_VALUE}
${ROD}
varying vec3 vShade;
varying vec3 vLight;
void main() {`,
).replace(
  "vMask = copyHeat(mask);",
  /* glsl */ `vMask = copyHeat(mask);
  vShade = toScreen(NeutralToneMapping(rod(0.0, vValue, vMask)));
  vLight = toScreen(NeutralToneMapping(rod(1.0, vValue, vMask)));`,
);

const QUICK_FRAGMENT = /* glsl */ `
varying vec3 vShade;
varying vec3 vLight;
varying float vPixels;
void main() {
  vec2 at = gl_PointCoord * 2.0 - 1.0;
  float far = dot(at, at);
  if (vPixels > 3.0 && far > 1.0) discard;
  float z = sqrt(max(1.0 - far, 0.0));
  // The direction of the light, of length 1.
  float light = max(dot(vec3(at.x, -at.y, z), vec3(0.398, 0.697, 0.597)), 0.0);
  gl_FragColor = vec4(mix(vShade, vLight, vPixels > 3.0 ? light : 0.9), 1.0);
}
`;

function material(uniforms: SurfaceUniforms, vertexShader: string, fragmentShader: string) {
  return new THREE.ShaderMaterial({
    uniforms: uniforms as unknown as Record<string, THREE.IUniform>,
    vertexShader,
    fragmentShader,
    side: THREE.DoubleSide,
  });
}

/** Tell the shaders how many pixels they draw on, before each picture. */
export function watchScreen(object: THREE.Object3D, uniforms: SurfaceUniforms) {
  const viewport = new THREE.Vector4();
  object.onBeforeRender = (renderer) => {
    renderer.getCurrentViewport(viewport);
    uniforms.uScreen.value.set(viewport.z, viewport.w);
  };
}

export function makeDiscs(uniforms: SurfaceUniforms): THREE.ShaderMaterial {
  return material(uniforms, DISC_VERTEX, DISC_FRAGMENT);
}

export function makeQuickDiscs(uniforms: SurfaceUniforms): THREE.ShaderMaterial {
  const quick = material(uniforms, QUICK_VERTEX, QUICK_FRAGMENT);
  quick.toneMapped = false;
  return quick;
}

/** Both ends of each segment, taken from the points; four numbers a point. */
export function segmentEnds(
  points: Uint16Array,
  segments: Uint32Array,
  out: Uint16Array<ArrayBuffer>,
): Uint16Array<ArrayBuffer> {
  for (let k = 0; k < segments.length; k++) {
    const from = 4 * segments[k];
    const to = 4 * k;
    out[to] = points[from];
    out[to + 1] = points[from + 1];
    out[to + 2] = points[from + 2];
    out[to + 3] = points[from + 3];
  }
  return out;
}

/** The strokes of one piece's curves. */
export class Strokes {
  readonly geometry = new THREE.InstancedBufferGeometry();
  readonly mesh: THREE.Mesh<THREE.InstancedBufferGeometry, THREE.ShaderMaterial>;
  private ends = new THREE.InstancedInterleavedBuffer(new Uint16Array(0), 8);
  private masks = new THREE.InstancedInterleavedBuffer(new Uint8Array(0), 2);

  constructor(uniforms: SurfaceUniforms) {
    const quad = new Float32Array([0, -1, 0, 1, -1, 0, 1, 1, 0, 0, 1, 0]);
    this.geometry.setAttribute("position", new THREE.BufferAttribute(quad, 3));
    this.geometry.setIndex([0, 1, 2, 0, 2, 3]);
    this.geometry.instanceCount = 0;
    this.mesh = new THREE.Mesh(this.geometry, material(uniforms, STROKE_VERTEX, STROKE_FRAGMENT));
    this.mesh.frustumCulled = false;
    watchScreen(this.mesh, uniforms);
  }

  show(points: Uint16Array, segments: Uint32Array, mask: Uint8Array | null) {
    const count = segments.length / 2;
    if (this.geometry.instanceCount !== count) {
      // Or it would be held to as many as its first buffer had.
      this.geometry.dispose();
      this.ends = new THREE.InstancedInterleavedBuffer(new Uint16Array(count * 8), 8);
      this.masks = new THREE.InstancedInterleavedBuffer(new Uint8Array(count * 2), 2);
      for (const buffer of [this.ends, this.masks]) buffer.setUsage(THREE.DynamicDrawUsage);
      const at = (offset: number) =>
        new THREE.InterleavedBufferAttribute(this.ends, 4, offset, true);
      this.geometry.setAttribute("begin", at(0));
      this.geometry.setAttribute("end", at(4));
      this.geometry.setAttribute(
        "masks",
        new THREE.InterleavedBufferAttribute(this.masks, 2, 0, true),
      );
      this.geometry.instanceCount = count;
    }
    if (!count) return;
    segmentEnds(points, segments, this.ends.array as Uint16Array<ArrayBuffer>);
    this.ends.needsUpdate = true;
    if (!mask) return;
    const masks = this.masks.array;
    for (let k = 0; k < segments.length; k++) masks[k] = mask[segments[k]];
    this.masks.needsUpdate = true;
  }

  dispose(gl: THREE.WebGLRenderer) {
    this.geometry.dispose();
    release(gl, this.mesh.material);
  }
}
