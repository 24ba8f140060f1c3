import type * as THREE from "three";

const kept = new WeakSet<object>();

/**
 * Keep all shaders that were compiled, for handles that come again and for the next study: where the
 * processor draws, each takes it a good part of a second. A program goes with the last material that
 * uses it, so that each is counted once more.
 */
export function keepShaders(gl: THREE.WebGLRenderer): void {
  for (const program of gl.info.programs ?? []) {
    if (kept.has(program)) continue;
    kept.add(program);
    program.usedTimes += 1;
  }
}

/** The first material of each text of shaders, for each canvas. */
const firsts = new WeakMap<THREE.WebGLRenderer, Map<string, THREE.ShaderMaterial>>();

/**
 * Dispose of a material that brought its own shaders, unless it is the first that was drawn with
 * them. Such shaders are known by a number that goes with the last material that has their text:
 * the next one would get another number, and a program of its own each time.
 */
export function release(gl: THREE.WebGLRenderer, material: THREE.ShaderMaterial): void {
  const first = firsts.get(gl) ?? new Map<string, THREE.ShaderMaterial>();
  firsts.set(gl, first);
  const text = material.vertexShader + material.fragmentShader;
  if (!first.has(text) && gl.properties.has(material)) first.set(text, material);
  if (first.get(text) !== material) material.dispose();
}
