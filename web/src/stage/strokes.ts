import * as THREE from "three";
import { release } from "./keptShaders";
import { LOOK_BLENDING, LOOK_COLOURS, LOOK_VERTEX, MOST_CHANNELS } from "./lookShader";
import { DECODE, HEAT, type SurfaceUniforms } from "./material";
import { screenRatio } from "./screenRatio";
import { SHOWN } from "./fastMaterial";
import { MOST_PRINTS } from "./printShader";

/**
 * Curves and edges as round strokes and loose points as dots, of a size in metres or in pixels. A
 * stroke is a strip that faces the camera, shaded across as a rod would be.
 */

/** Pixels below which a stroke would flicker instead of growing thinner. */
const LEAST_PX = 1.3;

const PIXELS = /* glsl */ `
uniform vec2 uScreen;
uniform float uOnScreen;
uniform float uRatio;
// What a size measures on the screen at a distance, in pixels.
float pixelsAt(float size, float w) {
  float pixels = size * projectionMatrix[1][1] * uScreen.y * 0.5 / w;
  return max(mix(pixels, size * uRatio, uOnScreen), ${LEAST_PX.toFixed(1)});
}
`;

/** Numbers of a vertex as pixels are given them; the own light times its strength. */
const ROD_OUT = /* glsl */ `
varying vec4 vChannelsA;
varying vec4 vChannelsB;
varying vec4 vChannelsC;
varying float vMask;
varying vec2 vShine;
#ifdef PRINTED
varying vec4 vPrinted[${MOST_PRINTS}];
#endif
`;

const ROD_SEND = /* glsl */ `
  vChannelsA = vec4(c[0], c[1], c[2], c[3]);
  vChannelsB = vec4(c[4], c[5], c[6], c[7]);
  vChannelsC = vec4(c[8], c[9], c[10], c[11]);
  vShine = vec2(a[3], a[2]);
#ifdef PRINTED
  for (int p = 0; p < ${MOST_PRINTS}; p++) vPrinted[p] = printed[p];
#endif
`;

/** Pictures were found at the points. */
const ROD_TAKE = /* glsl */ `
#ifdef PRINTED
  for (int p = 0; p < ${MOST_PRINTS}; p++) printed[p] = vPrinted[p];
#endif
`;

const ROD = /* glsl */ `
// How much of the light a rod's side takes, and what it looks like then.
float facing(vec3 n) {
  return max(dot(n, normalize(vec3(0.4, 0.7, 0.6))), 0.0);
}
vec3 rod(float facing, vec3 colour, vec3 own, float shine) {
  return colour * (0.42 + 0.72 * facing) + own * shine * (1.0 - uHeat);
}
`;

const STROKE_VERTEX = /* glsl */ `
${DECODE}
${PIXELS}
${LOOK_VERTEX}
${ROD_OUT}
attribute vec4 begin;
attribute vec4 end;
attribute vec4 beginA;
attribute vec4 endA;
attribute vec4 beginB;
attribute vec4 endB;
attribute vec2 masks;
#ifdef PRINTED
attribute vec2 beginUv;
attribute vec2 endUv;
attribute vec3 beginRest;
attribute vec3 endRest;
#endif
varying float vAcross;
varying vec2 vSideways;
void main() {
  mat4 seen = projectionMatrix * modelViewMatrix;
  bool last = position.x > 0.5;
  vec4 told = last ? end : begin;
  vec3 at = uLow + told.xyz * uSize;
  vec4 place = modelViewMatrix * vec4(at, 1.0);
  vec3 eye = normalize(-place.xyz);
  float c[${MOST_CHANNELS}];
  float a[8];
#ifdef PRINTED
  findPrints(at, last ? endRest : beginRest, last ? endUv : beginUv,
             seenAt(projectionMatrix * place));
#endif
  findChannels(at, eye, eye, length(place.xyz), told.w, last ? endA : beginA,
               last ? endB : beginB, c);
  findAmounts(c, a);
  vec4 ahead = seen * vec4(uLow + begin.xyz * uSize, 1.0);
  vec4 behind = seen * vec4(uLow + end.xyz * uSize, 1.0);
  vec2 half_ = uScreen * 0.5;
  vec2 way = behind.xy / behind.w * half_ - ahead.xy / ahead.w * half_;
  way = length(way) > 1e-4 ? normalize(way) : vec2(1.0, 0.0);
  vec2 sideways = vec2(-way.y, way.x);
  vec4 own = last ? behind : ahead;
  float radius = 0.5 * pixelsAt(a[7], own.w);
  // A little longer, so that there is no gap where the curve turns.
  vec2 shift = sideways * position.y * radius + way * (last ? 0.3 : -0.3) * radius;
  gl_Position = own + vec4(shift / half_ * own.w, 0.0, 0.0);
  // Edges lie in the surface that they are drawn over.
  gl_Position.z -= uNearer * 1e-4 * gl_Position.w;
  if (ahead.w <= 0.0 || behind.w <= 0.0) gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
  vAcross = position.y;
  vSideways = sideways;
  vMask = last ? masks.y : masks.x;
  ${ROD_SEND}
}
`.replace("void main() {", "uniform float uNearer;\nvoid main() {");

const STROKE_FRAGMENT = /* glsl */ `
${LOOK_BLENDING}
${LOOK_COLOURS}
${HEAT}
${ROD}
${ROD_OUT}
uniform float uNearer;
uniform vec3 uEdgeColour;
varying float vAcross;
varying vec2 vSideways;
void main() {
  ${ROD_TAKE}
  vec3 n = vec3(vSideways * vAcross, sqrt(max(1.0 - vAcross * vAcross, 0.0)));
  vec3 colour = colourOfLooks(0, vChannelsA, vChannelsB, vChannelsC);
  vec3 own = colourOfLooks(1, vChannelsA, vChannelsB, vChannelsC);
  colour = heated(mix(colour, uEdgeColour, uNearer), vMask);
  gl_FragColor = vec4(rod(facing(n), colour, own, vShine.x * (1.0 - uNearer)), vShine.y);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}
`;

const DISC_VERTEX = /* glsl */ `
${DECODE}
${PIXELS}
${LOOK_VERTEX}
${ROD_OUT}
attribute float mask;
varying float vPixels;
void main() {
  vec3 at = placed(uLow + position * uSize);
  vec4 place = modelViewMatrix * vec4(at, 1.0);
  gl_Position = projectionMatrix * place;
  vec3 eye = normalize(-place.xyz);
  float c[${MOST_CHANNELS}];
  float a[8];
#ifdef PRINTED
  findPrints(uLow + position * uSize, printRest, printUv, seenAt(gl_Position));
#endif
  findChannels(at, eye, eye, length(place.xyz), value, channelsA, channelsB, c);
  findAmounts(c, a);
  vPixels = pixelsAt(a[7], gl_Position.w);
  gl_PointSize = vPixels;
  vMask = copyHeat(mask);
  ${ROD_SEND}
}
`;

/** Cuts a point to its form, and tells how much light falls there. */
const DOT = /* glsl */ `
uniform float uDots;
varying float vPixels;
// Of light from above on the left; below 0 there is nothing.
float dotLight(float shade) {
  vec2 at = gl_PointCoord * 2.0 - 1.0;
  float far = dot(at, at);
  // A disc of two or three pixels is its square.
  bool small = vPixels <= 3.0;
  if (!small && uDots < 1.5 && far > 1.0) return -1.0;
  if (small || uDots > 0.5) return shade;
  vec3 n = vec3(at.x, -at.y, sqrt(max(1.0 - far, 0.0)));
  return max(dot(n, vec3(0.398, 0.697, 0.597)), 0.0);
}
`;

const DISC_FRAGMENT = /* glsl */ `
${LOOK_BLENDING}
${LOOK_COLOURS}
${HEAT}
${ROD}
${ROD_OUT}
${DOT}
void main() {
  float light = dotLight(0.905);
  if (light < 0.0) discard;
  ${ROD_TAKE}
  vec3 colour = heated(colourOfLooks(0, vChannelsA, vChannelsB, vChannelsC), vMask);
  vec3 own = colourOfLooks(1, vChannelsA, vChannelsB, vChannelsC);
  gl_FragColor = vec4(rod(light, colour, own, vShine.x), vShine.y);
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
${LOOK_COLOURS}
${HEAT}
${ROD}
varying vec3 vShade;
varying vec3 vLight;
void main() {`,
).replace(
  "vMask = copyHeat(mask);",
  /* glsl */ `vMask = copyHeat(mask);
  vec4 ca = vec4(c[0], c[1], c[2], c[3]);
  vec4 cb = vec4(c[4], c[5], c[6], c[7]);
  vec4 cc = vec4(c[8], c[9], c[10], c[11]);
  vec3 colour = heated(colourOfLooks(0, ca, cb, cc), vMask);
  vec3 own = colourOfLooks(1, ca, cb, cc);
  vShade = toScreen(NeutralToneMapping(rod(0.0, colour, own, a[3])));
  vLight = toScreen(NeutralToneMapping(rod(1.0, colour, own, a[3])));`,
);

const QUICK_FRAGMENT = /* glsl */ `
varying vec3 vShade;
varying vec3 vLight;
varying vec2 vShine;
${DOT}
void main() {
  float light = dotLight(0.9);
  if (light < 0.0) discard;
  gl_FragColor = vec4(mix(vShade, vLight, light), vShine.y);
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
    uniforms.uRatio.value = screenRatio.value;
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

/** Columns of bytes of both ends of each segment, taken from those of the points. */
function endBytes(
  bytes: Uint8Array,
  columns: number,
  offset: number,
  taken: number,
  segments: Uint32Array,
  out: Uint8Array,
) {
  for (let k = 0; k < segments.length; k++)
    for (let j = 0; j < taken; j++) out[taken * k + j] = bytes[columns * segments[k] + offset + j];
}

/** What a stroke is drawn along. */
export interface Stroked {
  points: Uint16Array;
  mask: Uint8Array | null;
  /** Channels besides the finest, four or eight for each point. */
  channels: Uint8Array | null;
  /** What patterns and pictures lie by: two numbers, and three, of each point. */
  uvs: Float32Array | null;
  atRest: Float32Array | null;
}

/** What patterns and pictures lie by, at both ends of each segment. */
const LAID = [
  { name: "Uv", columns: 2 },
  { name: "Rest", columns: 3 },
] as const;

/** Strokes along the curves of one piece, or along the edges of its faces. */
export class Strokes {
  readonly geometry = new THREE.InstancedBufferGeometry();
  readonly mesh: THREE.Mesh<THREE.InstancedBufferGeometry, THREE.ShaderMaterial>;
  private ends = new THREE.InstancedInterleavedBuffer(new Uint16Array(0), 8);
  /** Pairs of bytes: of the mask, and of the first and the next four channels. */
  private bytes: { buffer: THREE.InstancedInterleavedBuffer; taken: number }[] = [];
  private readonly over: { value: number };

  /** over : whether it is drawn over a surface, in the colour of its edges */
  constructor(uniforms: SurfaceUniforms, over: boolean) {
    const quad = new Float32Array([0, -1, 0, 1, -1, 0, 1, 1, 0, 0, 1, 0]);
    this.geometry.setAttribute("position", new THREE.BufferAttribute(quad, 3));
    this.geometry.setIndex([0, 1, 2, 0, 2, 3]);
    this.geometry.instanceCount = 0;
    this.over = { value: over ? 1 : 0 };
    const made = material(uniforms, STROKE_VERTEX, STROKE_FRAGMENT);
    made.defines = { STROKES: "" };
    made.uniforms = { ...made.uniforms, uNearer: this.over };
    this.mesh = new THREE.Mesh(this.geometry, made);
    this.mesh.frustumCulled = false;
    watchScreen(this.mesh, uniforms);
  }

  /** Whether it is drawn over a surface. */
  lieOver(over: boolean) {
    this.over.value = over ? 1 : 0;
  }

  show({ points, mask, channels, uvs, atRest }: Stroked, segments: Uint32Array) {
    const count = segments.length / 2;
    if (this.geometry.instanceCount !== count) this.makeRoom(count);
    if (!count) return;
    segmentEnds(points, segments, this.ends.array as Uint16Array<ArrayBuffer>);
    this.ends.needsUpdate = true;
    this.showLaid([uvs, atRest], segments);
    const columns = channels ? channels.length / (points.length / 4) : 0;
    const sources = [
      { from: mask, columns: 1, offset: 0 },
      { from: channels, columns, offset: 0 },
      { from: columns > 4 ? channels : null, columns, offset: 4 },
    ];
    this.bytes.forEach(({ buffer, taken }, k) => {
      const source = sources[k];
      if (!source.from) return;
      const out = buffer.array as Uint8Array;
      endBytes(source.from, source.columns, source.offset, taken, segments, out);
      buffer.needsUpdate = true;
    });
  }

  private showLaid(laid: (Float32Array | null)[], segments: Uint32Array) {
    LAID.forEach(({ name, columns }, k) => {
      const from = laid[k];
      if (!from) {
        for (const end of ["begin", "end"]) this.geometry.deleteAttribute(end + name);
        return;
      }
      const ends = new Float32Array(segments.length * columns);
      for (let e = 0; e < segments.length; e++)
        for (let j = 0; j < columns; j++) ends[columns * e + j] = from[columns * segments[e] + j];
      const buffer = new THREE.InstancedInterleavedBuffer(ends, 2 * columns);
      for (const [at, end] of ["begin", "end"].entries())
        this.geometry.setAttribute(
          end + name,
          new THREE.InterleavedBufferAttribute(buffer, columns, at * columns),
        );
    });
  }

  private makeRoom(count: number) {
    // Or it would be held to as many as its first buffer had.
    this.geometry.dispose();
    const dynamic = (array: Uint16Array | Uint8Array, stride: number) => {
      const buffer = new THREE.InstancedInterleavedBuffer(array, stride);
      buffer.setUsage(THREE.DynamicDrawUsage);
      return buffer;
    };
    const attribute = (
      name: string,
      buffer: THREE.InstancedInterleavedBuffer,
      size: number,
      at: number,
    ) => {
      const made = new THREE.InterleavedBufferAttribute(buffer, size, at, true);
      this.geometry.setAttribute(name, made);
    };
    this.ends = dynamic(new Uint16Array(count * 8), 8);
    attribute("begin", this.ends, 4, 0);
    attribute("end", this.ends, 4, 4);
    this.bytes = [1, 4, 4].map((taken) => ({
      buffer: dynamic(new Uint8Array(count * 2 * taken), 2 * taken),
      taken,
    }));
    attribute("masks", this.bytes[0].buffer, 2, 0);
    for (const [k, letter] of ["A", "B"].entries()) {
      attribute(`begin${letter}`, this.bytes[k + 1].buffer, 4, 0);
      attribute(`end${letter}`, this.bytes[k + 1].buffer, 4, 4);
    }
    this.geometry.instanceCount = count;
  }

  dispose(gl: THREE.WebGLRenderer) {
    this.geometry.dispose();
    release(gl, this.mesh.material);
  }
}
