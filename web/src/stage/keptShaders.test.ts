import { expect, it, vi } from "vitest";
import * as THREE from "three";
import { keepShaders, release } from "./keptShaders";

it("counts each shader once more, so that it does not go with its last material", () => {
  const [handle, surface] = [{ usedTimes: 1 }, { usedTimes: 3 }];
  const gl = { info: { programs: [handle] } } as unknown as THREE.WebGLRenderer;
  keepShaders(gl);
  gl.info.programs!.push(surface as never);
  keepShaders(gl);
  keepShaders(gl);
  expect([handle.usedTimes, surface.usedTimes]).toEqual([2, 4]);
});

it("disposes of all materials with shaders of their own but the first that was drawn", () => {
  const shaders = { vertexShader: "void main() {}", fragmentShader: "void main() { }" };
  const [hidden, first, second] = [0, 1, 2].map(() => {
    const made = new THREE.ShaderMaterial(shaders);
    vi.spyOn(made, "dispose");
    return made;
  });
  const other = new THREE.ShaderMaterial({ ...shaders, fragmentShader: "void main() { ; }" });
  const drawn = new Set<unknown>([first, second, other]);
  const gl = { properties: drawn } as unknown as THREE.WebGLRenderer;
  for (const each of [hidden, first, second, first, other]) release(gl, each);
  expect(hidden.dispose).toHaveBeenCalled();
  expect(first.dispose).not.toHaveBeenCalled();
  expect(second.dispose).toHaveBeenCalled();
  // Another canvas has shaders of its own.
  release({ properties: new Set([second]) } as unknown as THREE.WebGLRenderer, second);
  expect(second.dispose).toHaveBeenCalledTimes(1);
});
