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
