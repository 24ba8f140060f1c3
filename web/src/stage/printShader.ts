import * as THREE from "three";
import type { LookHeader } from "../api/frame";

/**
 * Patterns and pictures in shaders, found at every pixel of a surface, or at every point of what is
 * drawn as lines or dots. The server says what lies where; the formulas are those of
 * zygomorph/core/shared/figures.py.
 */

export const MOST_PRINTS = 4;
type Shown = LookHeader["prints"][number];

const FIGURES: Shown["figure"][] = ["checks", "stripes", "dots", "grid", "noise", "picture"];
const ON: Shown["on"][] = ["piece", "rest", "uv", "eye"];
const ROUND: Shown["round"][] = ["flat", "cylinder", "sphere"];
const WRAPPING = {
  repeat: THREE.RepeatWrapping,
  mirror: THREE.MirroredRepeatWrapping,
  rim: THREE.ClampToEdgeWrapping,
  nothing: THREE.ClampToEdgeWrapping,
} as const;

export interface PrintUniforms {
  uPrints: { value: number };
  /** Figure, what it is found from, what it is wrapped round, whether it ends at its rim. */
  uPrintKind: { value: THREE.Vector4[] };
  /** Fill, softness of edges, turn of the gradients. */
  uPrintMore: { value: THREE.Vector4[] };
  uPrintSeed: { value: Int32Array };
  /** Three rows each. */
  uPrintFrame: { value: THREE.Vector4[] };
  /** Two rows each. */
  uPrintAcross: { value: THREE.Vector3[] };
  uPicture0: { value: THREE.Texture | null };
  uPicture1: { value: THREE.Texture | null };
  uPicture2: { value: THREE.Texture | null };
  uPicture3: { value: THREE.Texture | null };
}

const vectors = (count: number) => Array.from({ length: count }, () => new THREE.Vector4());

export function makePrintUniforms(): PrintUniforms {
  return {
    uPrints: { value: 0 },
    uPrintKind: { value: vectors(MOST_PRINTS) },
    uPrintMore: { value: vectors(MOST_PRINTS) },
    uPrintSeed: { value: new Int32Array(MOST_PRINTS) },
    uPrintFrame: { value: vectors(3 * MOST_PRINTS) },
    uPrintAcross: { value: Array.from({ length: 2 * MOST_PRINTS }, () => new THREE.Vector3()) },
    uPicture0: { value: null },
    uPicture1: { value: null },
    uPicture2: { value: null },
    uPicture3: { value: null },
  };
}

/** What is printed at a place: `printed` its colours as they stand in the picture, and
 * `printValue` its number from 0 to 1; both are set by findPrints. */
export const PRINTS = /* glsl */ `
#ifdef PRINTED
uniform int uPrints;
uniform vec4 uPrintKind[${MOST_PRINTS}];
uniform vec4 uPrintMore[${MOST_PRINTS}];
uniform int uPrintSeed[${MOST_PRINTS}];
uniform vec4 uPrintFrame[${3 * MOST_PRINTS}];
uniform vec3 uPrintAcross[${2 * MOST_PRINTS}];
uniform sampler2D uPicture0;
uniform sampler2D uPicture1;
uniform sampler2D uPicture2;
uniform sampler2D uPicture3;
vec4 printed[${MOST_PRINTS}];
float printValue[${MOST_PRINTS}];

vec2 tent(vec2 x) { return abs(fract(x) - 0.5); }
float band(float inside, float soft) { return clamp(inside / soft + 0.5, 0.0, 1.0); }
uint hashed(uint x, uint y, uint seed) {
  uint h = (x * 0x9E3779B1u) ^ (y * 0x85EBCA77u) ^ (seed * 0xC2B2AE3Du);
  h ^= h >> 16u; h *= 0x7FEB352Du; h ^= h >> 15u; h *= 0x846CA68Bu; h ^= h >> 16u;
  return h;
}
float slopeAt(vec2 cell, vec2 from, float wrap, uint seed, float evolve) {
  vec2 at = mod(cell, wrap);
  uint h = hashed(uint(at.x), uint(at.y), seed);
  uint k = h & 3u;
  float turns = k == 0u ? 1.0 : k == 1u ? -1.0 : k == 2u ? 2.0 : -2.0;
  float angle = 6.283185307 * (float(h >> 8u) / 16777216.0 + evolve * turns);
  return dot(vec2(cos(angle), sin(angle)), from);
}
float softNoise(vec2 x, float wrap, uint seed, float evolve) {
  vec2 c = floor(x), f = x - c;
  vec2 u = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
  float a = slopeAt(c, f, wrap, seed, evolve);
  float b = slopeAt(c + vec2(1.0, 0.0), f - vec2(1.0, 0.0), wrap, seed, evolve);
  float d = slopeAt(c + vec2(0.0, 1.0), f - vec2(0.0, 1.0), wrap, seed, evolve);
  float e = slopeAt(c + 1.0, f - 1.0, wrap, seed, evolve);
  return mix(mix(a, b, u.x), mix(d, e, u.x), u.y);
}
vec4 inPicture(int p, vec2 st, float lod) {
  if (p == 0) return textureLod(uPicture0, st, lod);
  if (p == 1) return textureLod(uPicture1, st, lod);
  if (p == 2) return textureLod(uPicture2, st, lod);
  return textureLod(uPicture3, st, lod);
}
vec2 sizeOfPicture(int p) {
  if (p == 0) return vec2(textureSize(uPicture0, 0));
  if (p == 1) return vec2(textureSize(uPicture1, 0));
  if (p == 2) return vec2(textureSize(uPicture2, 0));
  return vec2(textureSize(uPicture3, 0));
}
// step : of a pixel, in repeats
float drawnThere(int p, int figure, vec2 st, vec2 step) {
  vec4 more = uPrintMore[p];
  vec2 soft = max(max(vec2(more.y), step), vec2(1e-6));
  vec2 far = tent(st);
  if (figure == 0) {
    vec2 side = vec2(2.0 * band(far.x - 0.25, soft.x) - 1.0, 2.0 * band(far.y - 0.25, soft.y) - 1.0);
    // What is finer than a pixel is grey.
    side *= clamp(1.5 - 2.0 * step, 0.0, 1.0);
    return 0.5 + 0.5 * side.x * side.y;
  }
  if (figure == 1) return band(more.x * 0.5 - far.x, soft.x);
  if (figure == 2) return band(more.x * 0.5 - length(far), max(soft.x, soft.y));
  if (figure == 3)
    return max(band(far.x - 0.5 + more.x * 0.5, soft.x), band(far.y - 0.5 + more.x * 0.5, soft.y));
  float total = 0.0, strength = 1.0, cells = 4.0;
  for (int k = 0; k < 3; k++) {
    total += strength * softNoise(st * cells, cells, uint(uPrintSeed[p] + k), more.z);
    strength *= 0.5;
    cells *= 2.0;
  }
  return clamp(0.5 + total * 0.6, 0.0, 1.0);
}
// at, rest : in the piece; seen : in heights of the picture, from its middle
void findPrints(vec3 at, vec3 rest, vec2 uv, vec2 seen) {
  for (int p = 0; p < ${MOST_PRINTS}; p++) {
    printed[p] = vec4(0.0);
    printValue[p] = 0.0;
    if (p >= uPrints) continue;
    vec4 kind = uPrintKind[p];
    int on = int(kind.y), wrapped = int(kind.z);
    vec4 from = vec4(on == 0 ? at : on == 1 ? rest : on == 2 ? vec3(uv, 0.0) : vec3(seen, 0.0), 1.0);
    vec3 own = vec3(dot(uPrintFrame[3 * p], from), dot(uPrintFrame[3 * p + 1], from),
                    dot(uPrintFrame[3 * p + 2], from));
    vec2 w = own.xy;
    if (wrapped > 0) {
      w.x = atan(own.x, own.y) / 6.283185307;
      w.y = wrapped == 1 ? own.z : atan(own.z, length(own.xy)) / 3.141592654;
    }
    vec3 a = uPrintAcross[2 * p], b = uPrintAcross[2 * p + 1];
    vec2 st = vec2(dot(a, vec3(w, 1.0)), dot(b, vec3(w, 1.0)));
    vec2 step = vec2(0.0);
#ifdef PRINT_PIXELS
    vec2 change = fwidth(w);
    // Round a cylinder or sphere it begins again somewhere, where it does not change at all.
    if (wrapped > 0) change.x = min(change.x, fwidth(fract(w.x)));
    step = vec2(dot(abs(a.xy), change), dot(abs(b.xy), change));
#endif
    int figure = int(kind.x);
    if (figure < 5) {
      printValue[p] = drawnThere(p, figure, st, step);
      continue;
    }
    vec2 texels = step * sizeOfPicture(p);
    vec4 found = inPicture(p, st, log2(max(max(texels.x, texels.y), 1e-4)));
    if (kind.w > 0.5 && any(notEqual(st, clamp(st, 0.0, 1.0)))) found = vec4(0.0);
    printed[p] = found;
    printValue[p] = dot(found.rgb, vec3(0.2126, 0.7152, 0.0722)) * found.a;
  }
}
vec3 fromScreen(vec3 c) {
  vec3 high = pow((c + 0.055) / 1.055, vec3(2.4));
  return mix(high, c / 12.92, vec3(lessThanEqual(c, vec3(0.04045))));
}
#endif
`;

/** Where a point is in the picture, from its middle, in heights of it; in vertex shaders. */
export const SEEN_AT = /* glsl */ `
vec2 seenAt(vec4 place) {
  float aspect = projectionMatrix[1][1] / projectionMatrix[0][0];
  return place.xy / place.w * 0.5 * vec2(aspect, 1.0);
}
`;

/** The pictures of a piece on the graphics card. */
export class Printed {
  private readonly textures: (THREE.Texture | null)[] = Array.from(
    { length: MOST_PRINTS },
    () => null,
  );

  private sphere: THREE.Texture | null = null;

  constructor(private readonly uniforms: PrintUniforms) {}

  /** pictures : of each print, null of patterns */
  show(prints: Shown[], pictures: (ImageBitmap | null)[]) {
    const { uniforms } = this;
    uniforms.uPrints.value = prints.length;
    prints.forEach((each, p) => {
      uniforms.uPrintKind.value[p].set(
        FIGURES.indexOf(each.figure),
        ON.indexOf(each.on),
        ROUND.indexOf(each.round),
        each.beyond === "nothing" ? 1 : 0,
      );
      uniforms.uPrintMore.value[p].set(each.fill, each.edge, each.evolve % 1, 0);
      uniforms.uPrintSeed.value[p] = each.seed;
      each.frame.forEach((row, k) => uniforms.uPrintFrame.value[3 * p + k].fromArray(row));
      each.across.forEach((row, k) => uniforms.uPrintAcross.value[2 * p + k].fromArray(row));
      const picture = pictures[p];
      if (picture) this.hang(p, picture, WRAPPING[each.beyond]);
    });
  }

  /** The picture of a ball by which it is shaded; null where lights light it. */
  showSphere(picture: ImageBitmap | null, uniform: { value: THREE.Texture | null }) {
    if (!picture) return;
    this.sphere = withPicture(this.sphere, picture, THREE.ClampToEdgeWrapping);
    uniform.value = this.sphere;
  }

  private hang(p: number, picture: ImageBitmap, wrapping: THREE.Wrapping) {
    this.textures[p] = withPicture(this.textures[p], picture, wrapping);
    const slots = ["uPicture0", "uPicture1", "uPicture2", "uPicture3"] as const;
    this.uniforms[slots[p]].value = this.textures[p];
  }

  dispose() {
    for (const texture of [...this.textures, this.sphere]) texture?.dispose();
  }
}

/** A texture of a picture: the same with another picture where both are as large. */
function withPicture(known: THREE.Texture | null, picture: ImageBitmap, wrapping: THREE.Wrapping) {
  const before = known?.image as ImageBitmap | undefined;
  if (known && before === picture && known.wrapS === wrapping) return known;
  const alike = before?.width === picture.width && before.height === picture.height;
  const texture = known && alike ? known : new THREE.Texture();
  if (known && texture !== known) known.dispose();
  texture.image = picture;
  texture.wrapS = texture.wrapT = wrapping;
  texture.flipY = false;
  texture.generateMipmaps = true;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.needsUpdate = true;
  return texture;
}
