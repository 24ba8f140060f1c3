import * as THREE from "three";
import { FullScreenQuad } from "three-stdlib";
import { release } from "./keptShaders";
import { WHOLE_SCREEN } from "./wholeScreen";

/**
 * Ambient occlusion from the depths of a picture: how much of the half space over each pixel is
 * taken by what lies near it (after M. Mittring, "Finding Next Gen: CryEngine 2", SIGGRAPH 2007,
 * with normals from the depths themselves).
 */
const FOUND = /* glsl */ `
uniform sampler2D depths;
uniform mat4 back;
uniform mat4 forth;
uniform float radius;
uniform vec2 pixel;
varying vec2 at;
vec3 placeAt(vec2 uv) {
  vec4 seen = vec4(vec3(uv, texture2D(depths, uv).r) * 2.0 - 1.0, 1.0);
  vec4 place = back * seen;
  return place.xyz / place.w;
}
float chance(vec2 p) {
  return fract(sin(dot(p, vec2(12.9898, 78.233))) * 43758.5453);
}
void main() {
  float depth = texture2D(depths, at).r;
  if (depth >= 1.0) { gl_FragColor = vec4(1.0); return; }
  vec3 p = placeAt(at);
  // Of the two neighbours on each side the nearer one, so that rims do not bend the normal.
  vec3 right = placeAt(at + vec2(pixel.x, 0.0)) - p, left = p - placeAt(at - vec2(pixel.x, 0.0));
  vec3 above = placeAt(at + vec2(0.0, pixel.y)) - p, below = p - placeAt(at - vec2(0.0, pixel.y));
  vec3 n = normalize(cross(abs(right.z) < abs(left.z) ? right : left,
                           abs(above.z) < abs(below.z) ? above : below));
  float turn = chance(at / pixel) * 6.2831853;
  float taken = 0.0;
  for (int k = 0; k < 16; k++) {
    float share = (float(k) + 0.5) / 16.0;
    float angle = turn + float(k) * 2.3999632;
    float height = 1.0 - share;
    vec3 way = vec3(cos(angle) * sqrt(1.0 - height * height), sin(angle) * sqrt(1.0 - height * height), height);
    vec3 side = normalize(abs(n.y) < 0.9 ? cross(n, vec3(0.0, 1.0, 0.0)) : cross(n, vec3(1.0, 0.0, 0.0)));
    vec3 q = p + (side * way.x + cross(n, side) * way.y + n * way.z) * radius * mix(0.15, 1.0, share * share);
    vec4 seen = forth * vec4(q, 1.0);
    float there = placeAt(seen.xy / seen.w * 0.5 + 0.5).z;
    // What is far in front is something else, and does not count.
    float near = smoothstep(0.0, 1.0, radius / max(abs(p.z - there), 1e-6));
    taken += (there > q.z + radius * 0.02 ? 1.0 : 0.0) * near;
  }
  gl_FragColor = vec4(vec3(1.0 - taken / 16.0), 1.0);
}`;

/** The mean of four by four pixels, which the chance above repeats in. */
const SOFTENED = /* glsl */ `
uniform sampler2D found;
uniform vec2 pixel;
uniform float strength;
varying vec2 at;
void main() {
  float sum = 0.0;
  for (int i = 0; i < 4; i++)
    for (int j = 0; j < 4; j++)
      sum += texture2D(found, at + (vec2(float(i), float(j)) - 1.5) * pixel).r;
  gl_FragColor = vec4(vec3(mix(1.0, sum / 16.0, strength)), 1.0);
}`;

function pass(fragmentShader: string, uniforms: Record<string, THREE.IUniform>) {
  const material = new THREE.ShaderMaterial({
    vertexShader: WHOLE_SCREEN,
    fragmentShader,
    uniforms,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });
  return { material, quad: new FullScreenQuad(material) };
}

export class Occlusion {
  private readonly found = new THREE.WebGLRenderTarget(1, 1, { depthBuffer: false });
  private readonly first = pass(FOUND, {
    depths: { value: null },
    back: { value: new THREE.Matrix4() },
    forth: { value: new THREE.Matrix4() },
    radius: { value: 0.1 },
    pixel: { value: new THREE.Vector2() },
  });
  private readonly second = pass(SOFTENED, {
    found: { value: this.found.texture },
    pixel: { value: new THREE.Vector2() },
    strength: { value: 1 },
  });

  constructor() {
    // Darkens what is there.
    this.second.material.blending = THREE.CustomBlending;
    this.second.material.blendSrc = THREE.ZeroFactor;
    this.second.material.blendDst = THREE.SrcColorFactor;
    this.second.material.blendSrcAlpha = THREE.ZeroFactor;
    this.second.material.blendDstAlpha = THREE.OneFactor;
  }

  /** Darkens a picture in a target that has its depths. radius : metres */
  render(
    gl: THREE.WebGLRenderer,
    target: THREE.WebGLRenderTarget,
    camera: THREE.Camera,
    strength: number,
    radius: number,
  ) {
    const { width, height } = target;
    this.found.setSize(width, height);
    const { depths, back, forth, radius: far, pixel } = this.first.material.uniforms;
    depths.value = target.depthTexture;
    (back.value as THREE.Matrix4).copy(camera.projectionMatrixInverse);
    (forth.value as THREE.Matrix4).copy(camera.projectionMatrix);
    far.value = radius;
    (pixel.value as THREE.Vector2).set(1 / width, 1 / height);
    gl.setRenderTarget(this.found);
    this.first.quad.render(gl);
    (this.second.material.uniforms.pixel.value as THREE.Vector2).set(1 / width, 1 / height);
    this.second.material.uniforms.strength.value = strength;
    gl.setRenderTarget(target);
    const { autoClear } = gl;
    gl.autoClear = false;
    this.second.quad.render(gl);
    gl.autoClear = autoClear;
    gl.setRenderTarget(null);
  }

  dispose(gl: THREE.WebGLRenderer) {
    this.found.dispose();
    for (const { material, quad } of [this.first, this.second]) {
      release(gl, material);
      quad.dispose();
    }
  }
}
