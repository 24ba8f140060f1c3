import { expect, it } from "vitest";
import type * as THREE from "three";
import { keepShaders } from "./keptShaders";

it("counts each shader once more, so that it does not go with its last material", () => {
  const [handle, surface] = [{ usedTimes: 1 }, { usedTimes: 3 }];
  const gl = { info: { programs: [handle] } } as unknown as THREE.WebGLRenderer;
  keepShaders(gl);
  gl.info.programs!.push(surface as never);
  keepShaders(gl);
  keepShaders(gl);
  expect([handle.usedTimes, surface.usedTimes]).toEqual([2, 4]);
});
