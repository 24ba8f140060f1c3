import * as THREE from "three";
import { FullScreenQuad } from "three-stdlib";
import type { FinishTold } from "./finish";
import { WHOLE_SCREEN } from "./wholeScreen";

/** What is left of earlier pictures, in linear light with its opacity. */
export class Trails {
  private kept = makeRoom();
  private next = makeRoom();
  private readonly uniforms = {
    now: { value: null as THREE.Texture | null },
    before: { value: null as THREE.Texture | null },
    left: { value: 0 },
    mixed: { value: false },
  };
  private readonly quad = new FullScreenQuad(
    new THREE.ShaderMaterial({
      uniforms: this.uniforms,
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      blending: THREE.NoBlending,
      vertexShader: WHOLE_SCREEN,
      fragmentShader: /* glsl */ `
uniform sampler2D now;
uniform sampler2D before;
uniform float left;
uniform bool mixed;
varying vec2 at;
void main() {
  vec4 a = texture2D(now, at), b = texture2D(before, at);
  gl_FragColor = mixed ? mix(a, b, left) : max(a, b * left);
}`,
    }),
  );
  private isEmpty = true;

  /** The last picture, with what is left of those before it. */
  get target(): THREE.WebGLRenderTarget {
    return this.kept;
  }

  /** Takes a picture; frames : since the last one */
  add(
    gl: THREE.WebGLRenderer,
    picture: THREE.WebGLRenderTarget,
    { trails, trails_as }: FinishTold,
    frames = 1,
  ) {
    const { width, height } = picture;
    const alike = this.kept.width === width && this.kept.height === height;
    if (!alike) this.begin();
    this.next.setSize(width, height);
    this.uniforms.now.value = picture.texture;
    this.uniforms.before.value = this.isEmpty ? picture.texture : this.kept.texture;
    this.uniforms.left.value = this.isEmpty ? 0 : Math.pow(trails, frames);
    this.uniforms.mixed.value = trails_as === "mixed";
    gl.setRenderTarget(this.next);
    this.quad.render(gl);
    gl.setRenderTarget(null);
    [this.kept, this.next] = [this.next, this.kept];
    this.isEmpty = false;
  }

  /** The last picture once more, as it is now, with what was left before it. */
  again(gl: THREE.WebGLRenderer, picture: THREE.WebGLRenderTarget, told: FinishTold) {
    [this.kept, this.next] = [this.next, this.kept];
    this.add(gl, picture, told);
  }

  /** Nothing is left of what was before. */
  begin() {
    this.isEmpty = true;
  }

  dispose() {
    this.kept.dispose();
    this.next.dispose();
    this.quad.material.dispose();
    this.quad.dispose();
  }
}

function makeRoom() {
  return new THREE.WebGLRenderTarget(1, 1, { type: THREE.HalfFloatType, depthBuffer: false });
}
