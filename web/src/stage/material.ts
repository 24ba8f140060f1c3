import * as THREE from "three";

/**
 * Surface material that reads quantised frames: points as shares of a box, normals on an
 * octahedron, colour by a value through a gradient, and the mask as heat.
 */

export interface SurfaceUniforms {
  uLow: { value: THREE.Vector3 };
  uSize: { value: THREE.Vector3 };
  uGradient: { value: THREE.DataTexture };
  uByValue: { value: number };
  /** Colour and roughness of the quick shading; the full material holds its own. */
  uColour: { value: THREE.Color };
  uRoughness: { value: number };
  /** Which side of the faces can be seen: 1 the front, -1 the back, 0 both. */
  uSide: { value: number };
  uGlow: { value: number };
  uHeat: { value: number };
  /** See PLACED; of what has copies only. */
  uLinear: { value: number };
  uMiddle: { value: THREE.Vector3 };
  uHalf: { value: THREE.Vector3 };
  uCopyColour: { value: THREE.Vector3 };
  uCopyMask: { value: number };
  /** Metres; of curves and loose points. */
  uThickness: { value: number };
  /** Pixels of the picture that is being drawn. */
  uScreen: { value: THREE.Vector2 };
}

/** Where a point of a base is, of the copy that is drawn. */
const PLACED = /* glsl */ `
#ifdef COPIES
attribute vec4 row0;
attribute vec4 row1;
attribute vec4 row2;
attribute float copyValue;
attribute float copyMask;
uniform float uLinear;
uniform vec3 uMiddle;
uniform vec3 uHalf;
// What colours: 0 the base's own value, 1 the height between the next two, 2 a value of the copy.
uniform vec3 uCopyColour;
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
float copyColour(float value, vec3 at) {
  float height = clamp((at.y - uCopyColour.y) * uCopyColour.z, 0.0, 1.0);
  return uCopyColour.x < 0.5 ? value : (uCopyColour.x < 1.5 ? height : copyValue);
}
float copyHeat(float mask) {
  return mix(mask, copyMask, uCopyMask);
}
#else
vec3 placed(vec3 p) { return p; }
vec3 placedNormal(vec3 n) { return n; }
float copyColour(float value, vec3 at) { return value; }
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

/** Colour from the look, or by the value through the gradient, or the mask as heat. */
export const COLOUR_OF_VALUE = /* glsl */ `
uniform sampler2D uGradient;
uniform float uByValue;
uniform float uHeat;
vec3 colourOf(vec3 look, float value, float mask) {
  vec3 byValue = texture2D(uGradient, vec2(0.5 / 128.0 + value * 127.0 / 128.0, 0.5)).rgb;
  vec3 heat = mix(vec3(0.75, 0.36, 0.03), vec3(1.0, 0.86, 0.42), mask);
  heat = mix(vec3(0.06, 0.05, 0.09), heat, smoothstep(0.0, 0.55, mask));
  return mix(mix(look, byValue, uByValue), heat, uHeat * 0.92);
}
`;

/** Has a material draw copies, or one mesh. */
export function withCopies<M extends THREE.Material>(material: M, copies: boolean): M {
  if (copies) material.defines = { ...material.defines, COPIES: "" };
  return material;
}

function patchVertex(shader: THREE.WebGLProgramParametersWithUniforms, extra = "") {
  shader.vertexShader = shader.vertexShader
    .replace("#include <common>", `#include <common>\n${DECODE}${extra}`)
    .replace("#include <begin_vertex>", "vec3 transformed = placed(uLow + position * uSize);");
}

export function makeUniforms(): SurfaceUniforms {
  const blank = new THREE.DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
  blank.needsUpdate = true;
  return {
    uLow: { value: new THREE.Vector3() },
    uSize: { value: new THREE.Vector3(1, 1, 1) },
    uGradient: { value: blank },
    uByValue: { value: 0 },
    uColour: { value: new THREE.Color() },
    uRoughness: { value: 0.5 },
    uSide: { value: 0 },
    uGlow: { value: 0 },
    uHeat: { value: 0 },
    uLinear: { value: 1 },
    uMiddle: { value: new THREE.Vector3() },
    uHalf: { value: new THREE.Vector3() },
    uCopyColour: { value: new THREE.Vector3() },
    uCopyMask: { value: 0 },
    uThickness: { value: 0.008 },
    uScreen: { value: new THREE.Vector2(1, 1) },
  };
}

// Roughness that grows with the change of the normals is constant over each triangle, and would
// show the two halves of a twisted quad in every highlight.
const EVEN_ROUGHNESS = THREE.ShaderChunk.lights_physical_fragment.replace(
  "material.roughness += geometryRoughness;",
  "",
);

export function makeSurface(uniforms: SurfaceUniforms): THREE.MeshStandardMaterial {
  const material = new THREE.MeshStandardMaterial({ side: THREE.DoubleSide, metalness: 0 });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    patchVertex(
      shader,
      "attribute float value;\nattribute float mask;\nvarying float vValue;\nvarying float vMask;\n",
    );
    shader.vertexShader = shader.vertexShader
      .replace(
        "#include <beginnormal_vertex>",
        "vec3 objectNormal = placedNormal(decodeNormal(normal.xy));",
      )
      .replace(
        "#include <project_vertex>",
        "#include <project_vertex>\nvValue = copyColour(value, transformed);\nvMask = copyHeat(mask);",
      );
    shader.fragmentShader = shader.fragmentShader
      .replace(
        "#include <common>",
        `#include <common>
${COLOUR_OF_VALUE}
uniform float uGlow;
varying float vValue;
varying float vMask;`,
      )
      .replace(
        "#include <color_fragment>",
        `#include <color_fragment>
diffuseColor.rgb = colourOf(diffuseColor.rgb, vValue, vMask);`,
      )
      .replace("#include <lights_physical_fragment>", EVEN_ROUGHNESS)
      .replace(
        "#include <emissivemap_fragment>",
        "totalEmissiveRadiance += diffuseColor.rgb * uGlow * (1.0 - uHeat);",
      );
  };
  return material;
}

export function makeDepth(uniforms: SurfaceUniforms): THREE.MeshDepthMaterial {
  const material = new THREE.MeshDepthMaterial({
    depthPacking: THREE.RGBADepthPacking,
    side: THREE.DoubleSide,
  });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    patchVertex(shader);
  };
  return material;
}

export function makeLines(uniforms: SurfaceUniforms): THREE.LineBasicMaterial {
  const material = new THREE.LineBasicMaterial({
    color: "#f4eefb",
    transparent: true,
    opacity: 0.28,
  });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    patchVertex(shader);
  };
  return material;
}
