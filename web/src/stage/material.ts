import * as THREE from "three";
import { areaShadows } from "./areaShadows";
import {
  CHANNELS_OUT,
  LIT_SPHERE,
  LOOK_BLENDING,
  LOOK_COLOURS,
  LOOK_VERTEX,
  makeLookUniforms,
  MOST_CHANNELS,
  SEND_CHANNELS,
  TAKE_CHANNELS,
  type LookUniforms,
} from "./lookShader";
import { MOST_PRINTS } from "./printShader";

/**
 * Surface material that reads quantised frames: points as shares of a box, normals on an
 * octahedron, colour by a value through a gradient, and the mask as heat.
 */

export interface SurfaceUniforms extends LookUniforms {
  uLow: { value: THREE.Vector3 };
  uSize: { value: THREE.Vector3 };
  /** Which side of the faces can be seen: 1 the front, -1 the back, 0 both. */
  uSide: { value: number };
  uHeat: { value: number };
  /** See PLACED; of what has copies only. */
  uLinear: { value: number };
  uMiddle: { value: THREE.Vector3 };
  uHalf: { value: THREE.Vector3 };
  uCopyMask: { value: number };
  /** Whether sizes are pixels, and not metres. */
  uOnScreen: { value: number };
  uRatio: { value: number };
  /** Loose points as balls (0), discs (1) or squares (2). */
  uDots: { value: number };
  /** Colour of edges over a surface. */
  uEdgeColour: { value: THREE.Color };
  /** Pixels of the picture that is being drawn. */
  uScreen: { value: THREE.Vector2 };
}

/** Where a point of a base is, of the copy that is drawn. */
const PLACED = /* glsl */ `
#ifdef COPIES
attribute vec4 row0;
attribute vec4 row1;
attribute vec4 row2;
attribute float copyMask;
uniform float uLinear;
uniform vec3 uMiddle;
uniform vec3 uHalf;
uniform float uCopyMask;
vec3 placed(vec3 p) {
  vec3 turned = vec3(dot(row0.xyz, p), dot(row1.xyz, p), dot(row2.xyz, p));
  return turned * uLinear + uMiddle + uHalf * vec3(row0.w, row1.w, row2.w);
}
// By the cofactors, so that sizes that differ by direction keep normals across the surface.
vec3 placedNormal(vec3 n) {
  vec3 c0 = cross(row1.xyz, row2.xyz), c1 = cross(row2.xyz, row0.xyz), c2 = cross(row0.xyz, row1.xyz);
  float side = dot(row0.xyz, c0) < 0.0 ? -1.0 : 1.0;
  vec3 turned = side * vec3(dot(c0, n), dot(c1, n), dot(c2, n));
  float size = length(turned);
  return size > 1e-12 ? turned / size : n;
}
float copyHeat(float mask) {
  return mix(mask, copyMask, uCopyMask);
}
#else
vec3 placed(vec3 p) { return p; }
vec3 placedNormal(vec3 n) { return n; }
float copyHeat(float mask) { return mask; }
#endif
`;

export const DECODE = /* glsl */ `
uniform vec3 uLow;
uniform vec3 uSize;
${PLACED}
vec3 decodeNormal(vec2 e) {
  vec3 n = vec3(e, 1.0 - abs(e.x) - abs(e.y));
  if (n.z < 0.0) n.xy = (1.0 - abs(n.yx)) * vec2(n.x >= 0.0 ? 1.0 : -1.0, n.y >= 0.0 ? 1.0 : -1.0);
  return normalize(n);
}
`;

/** A colour with the mask over it as heat. */
export const HEAT = /* glsl */ `
uniform float uHeat;
vec3 heated(vec3 colour, float mask) {
  vec3 heat = mix(vec3(0.75, 0.36, 0.03), vec3(1.0, 0.86, 0.42), mask);
  heat = mix(vec3(0.06, 0.05, 0.09), heat, smoothstep(0.0, 0.55, mask));
  return mix(colour, heat, uHeat * 0.92);
}
// The share of it that shines by itself, so that the mask is seen in a study without light, too.
float heatOwn() { return 0.6 * uHeat; }
`;

/** Has a material draw copies, or one mesh. */
export function withCopies<M extends THREE.Material>(material: M, copies: boolean): M {
  if (copies) material.defines = { ...material.defines, COPIES: "" };
  return material;
}

/** Has a material find patterns and pictures, or be shaded by a picture of a ball, or not. */
export function define(material: THREE.Material, name: "PRINTED" | "LIT_SPHERE", on: boolean) {
  if (Boolean(material.defines && name in material.defines) === on) return;
  material.defines = { ...material.defines };
  if (on) material.defines[name] = "";
  else delete material.defines[name];
  material.needsUpdate = true;
}

function patchVertex(shader: THREE.WebGLProgramParametersWithUniforms, extra = "") {
  shader.vertexShader = shader.vertexShader
    .replace("#include <common>", `#include <common>\n${DECODE}${extra}`)
    .replace("#include <begin_vertex>", "vec3 transformed = placed(uLow + position * uSize);");
}

export function makeUniforms(): SurfaceUniforms {
  return {
    ...makeLookUniforms(),
    uLow: { value: new THREE.Vector3() },
    uSize: { value: new THREE.Vector3(1, 1, 1) },
    uSide: { value: 0 },
    uHeat: { value: 0 },
    uLinear: { value: 1 },
    uMiddle: { value: new THREE.Vector3() },
    uHalf: { value: new THREE.Vector3() },
    uCopyMask: { value: 0 },
    uOnScreen: { value: 0 },
    uRatio: { value: 1 },
    uDots: { value: 0 },
    uEdgeColour: { value: new THREE.Color() },
    uScreen: { value: new THREE.Vector2(1, 1) },
  };
}

// Roughness that grows with the change of the normals is constant over each triangle, and would
// show the two halves of a twisted quad in every highlight.
const EVEN_ROUGHNESS = THREE.ShaderChunk.lights_physical_fragment.replace(
  "material.roughness += geometryRoughness;",
  "",
);

/** Where three.js reads an amount of the material, what the looks make of it at the pixel. */
const AT_PIXEL: [chunk: string, text: string, amount: string][] = [
  ["roughnessmap_fragment", "roughnessFactor = roughness", "roughnessFactor = amountsA.x"],
  ["metalnessmap_fragment", "metalnessFactor = metalness", "metalnessFactor = amountsA.y"],
  [
    "transmission_fragment",
    "material.transmission = transmission",
    "material.transmission = amountsB.x",
  ],
];

const PHYSICAL = EVEN_ROUGHNESS.replace(
  "material.clearcoat = clearcoat;",
  "material.clearcoat = amountsB.y;",
).replace("material.sheenColor = sheenColor;", "material.sheenColor = sheenColor * amountsB.z;");

// The sky lights surfaces as a lamp does; what is around them is for shine alone.
const MIRRORED = THREE.ShaderChunk.lights_fragment_maps.replace(
  "iblIrradiance += getIBLIrradiance( geometryNormal );",
  "",
);

// three.js has no shadows for areas of light. Each that has one is followed by a spot in its middle
// that gives no light, but whose shadow is the area's.
const SHADED_AREAS = THREE.ShaderChunk.lights_fragment_begin.replace(
  "rectAreaLight = rectAreaLights[ i ];",
  `rectAreaLight = rectAreaLights[ i ];
    #if defined( USE_SHADOWMAP ) && ( UNROLLED_LOOP_INDEX < NUM_SPOT_LIGHT_SHADOWS )
    if ( UNROLLED_LOOP_INDEX < uAreaShadows && receiveShadow ) {
      SpotLightShadow areaShadow = spotLightShadows[ i ];
      rectAreaLight.color *= getShadow( spotShadowMap[ i ], areaShadow.shadowMapSize,
        areaShadow.shadowIntensity, areaShadow.shadowBias, areaShadow.shadowRadius,
        vSpotLightCoord[ i ] );
    }
    #endif`,
);

/** What patterns and pictures are found by between the points. */
const PRINT_OUT = /* glsl */ `
#ifdef PRINTED
varying vec3 vPrintAt;
varying vec3 vPrintRest;
varying vec4 vPrintSeen;
varying vec3 vPrintUv;
#endif
`;

const SEND_PRINTS = /* glsl */ `
#ifdef PRINTED
  vPrintAt = uLow + position * uSize;
  vPrintRest = printRest;
  vPrintUv = vec3(printUv, length(towardsEye));
  vPrintSeen = vec4(gl_Position.xyw, dot(normalize(transformedNormal), normalize(towardsEye)));
  vPrintSeen.x *= projectionMatrix[1][1] / projectionMatrix[0][0];
#endif
`;

/** Channels and amounts of a pixel: those between the points, and with patterns found anew. */
const AT_THE_PIXEL = /* glsl */ `
vec4 channelsOfA = vChannelsA, channelsOfB = vChannelsB, channelsOfC = vChannelsC;
vec4 amountsA = vAmountsA, amountsB = vAmountsB;
#ifdef PRINTED
{
  findPrints(vPrintAt, vPrintRest, vPrintUv.xy, vPrintSeen.xy / vPrintSeen.z * 0.5);
  ${TAKE_CHANNELS}
  float a[8];
  viewChannels(vPrintSeen.w, vPrintUv.z, c);
  findAmounts(c, a);
  channelsOfA = vec4(c[0], c[1], c[2], c[3]);
  channelsOfB = vec4(c[4], c[5], c[6], c[7]);
  channelsOfC = vec4(c[8], c[9], c[10], c[11]);
  amountsA = vec4(a[0], a[1], a[2], a[3]);
  amountsB = vec4(a[4], a[5], a[6], a[7]);
}
#endif
`;

function patchFragment(shader: THREE.WebGLProgramParametersWithUniforms) {
  for (const [chunk, text, amount] of AT_PIXEL) {
    const own = THREE.ShaderChunk[chunk as keyof typeof THREE.ShaderChunk].replace(text, amount);
    shader.fragmentShader = shader.fragmentShader.replace(`#include <${chunk}>`, own);
  }
  shader.fragmentShader = shader.fragmentShader
    .replace(
      "#include <common>",
      `#include <common>
#define PRINT_PIXELS
${CHANNELS_OUT}
${PRINT_OUT}
${LOOK_BLENDING}
${LOOK_COLOURS}
${HEAT}
${LIT_SPHERE}
uniform int uAreaShadows;
varying float vMask;`,
    )
    .replace(
      "#include <color_fragment>",
      `#include <color_fragment>
${AT_THE_PIXEL}
vec3 lookColour = colourOfLooks(0, channelsOfA, channelsOfB, channelsOfC);
vec3 heatColour = heated(lookColour, vMask);
diffuseColor.rgb = heatColour * (1.0 - heatOwn());
diffuseColor.a *= mix(amountsA.z, 1.0, uHeat);`,
    )
    .replace(
      "#include <opaque_fragment>",
      `#ifdef LIT_SPHERE
outgoingLight = diffuseColor.rgb * onSphere(normal, normalize(vViewPosition)) + totalEmissiveRadiance;
#endif
#include <opaque_fragment>`,
    )
    .replace("#include <lights_physical_fragment>", PHYSICAL)
    .replace("#include <lights_fragment_maps>", MIRRORED)
    .replace("#include <lights_fragment_begin>", SHADED_AREAS)
    .replace(
      "#include <emissivemap_fragment>",
      `totalEmissiveRadiance += heatColour * heatOwn();
if (amountsA.w > 0.0) {
  vec3 glowColour = colourOfLooks(1, channelsOfA, channelsOfB, channelsOfC);
  totalEmissiveRadiance += glowColour * amountsA.w * (1.0 - uHeat);
}`,
    );
}

export function makeSurface(uniforms: SurfaceUniforms): THREE.MeshPhysicalMaterial {
  const material = new THREE.MeshPhysicalMaterial({ side: THREE.DoubleSide, metalness: 0 });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms, { uAreaShadows: areaShadows });
    patchVertex(
      shader,
      `${LOOK_VERTEX}\n${CHANNELS_OUT}\n${PRINT_OUT}\nattribute float mask;\nvarying float vMask;\n`,
    );
    shader.vertexShader = shader.vertexShader
      .replace(
        "#include <beginnormal_vertex>",
        "vec3 objectNormal = placedNormal(decodeNormal(normal.xy));",
      )
      .replace(
        "#include <project_vertex>",
        `#include <project_vertex>
  float c[${MOST_CHANNELS}];
  float a[8];
  vec3 towardsEye = -mvPosition.xyz;
#ifdef PRINTED
  // Found at every pixel instead.
  for (int p = 0; p < ${MOST_PRINTS}; p++) printValue[p] = 0.0;
#endif
  findChannels(transformed, normalize(transformedNormal), normalize(towardsEye),
               length(towardsEye), value, channelsA, channelsB, c);
  findAmounts(c, a);
  ${SEND_CHANNELS}
  ${SEND_PRINTS}
  vMask = copyHeat(mask);`,
      );
    patchFragment(shader);
  };
  return material;
}

/** What throws shadows of suns, spots and areas. */
export function makeDepth(uniforms: SurfaceUniforms): THREE.MeshDepthMaterial {
  return unpacking(
    new THREE.MeshDepthMaterial({
      depthPacking: THREE.RGBADepthPacking,
      side: THREE.DoubleSide,
    }),
    uniforms,
  );
}

/** What throws shadows of point lights, for which three.js takes another material. */
export function makeDistance(uniforms: SurfaceUniforms): THREE.MeshDistanceMaterial {
  return unpacking(new THREE.MeshDistanceMaterial({ side: THREE.DoubleSide }), uniforms);
}

/** Has a material of three.js find points in their box. */
function unpacking<M extends THREE.Material>(material: M, uniforms: SurfaceUniforms): M {
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    patchVertex(shader);
  };
  return material;
}

export function makeLines(uniforms: SurfaceUniforms): THREE.LineBasicMaterial {
  const look = { color: "#f4eefb", transparent: true, opacity: 0.28 };
  return unpacking(new THREE.LineBasicMaterial(look), uniforms);
}
