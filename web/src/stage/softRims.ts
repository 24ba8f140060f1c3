import * as THREE from "three";
import { FXAAShader } from "three/addons/shaders/FXAAShader.js";
import { FullScreenQuad } from "three-stdlib";
import { release } from "./keptShaders";

// The backdrop is the page's own, behind the picture: to find the rims of dark surfaces, being
// there at all counts as brightness.
const FRAGMENT = FXAAShader.fragmentShader.replace(
  "return dot( Sample( tex2D, uv ).rgb, vec3( 0.3, 0.59, 0.11 ) );",
  "return dot( Sample( tex2D, uv ), vec4( 0.3, 0.59, 0.11, 0.5 ) );",
);

/**
 * Smooths the rims of the picture on the screen afterwards (FXAA), which costs a processor a third
 * of what several samples a pixel do.
 */
export class SoftRims {
  private readonly material = new THREE.ShaderMaterial({
    vertexShader: FXAAShader.vertexShader,
    fragmentShader: FRAGMENT,
    uniforms: THREE.UniformsUtils.clone(FXAAShader.uniforms),
    depthTest: false,
    depthWrite: false,
    blending: THREE.NoBlending,
  });
  private readonly quad = new FullScreenQuad(this.material);
  private texture = new THREE.FramebufferTexture(1, 1);

  render(gl: THREE.WebGLRenderer, width: number, height: number) {
    const { tDiffuse, resolution } = this.material.uniforms;
    if (this.texture.image.width !== width || this.texture.image.height !== height) {
      this.texture.dispose();
      this.texture = new THREE.FramebufferTexture(width, height);
      this.texture.minFilter = this.texture.magFilter = THREE.LinearFilter;
    }
    gl.copyFramebufferToTexture(this.texture);
    tDiffuse.value = this.texture;
    resolution.value.set(1 / width, 1 / height);
    this.quad.render(gl);
  }

  dispose(gl: THREE.WebGLRenderer) {
    this.texture.dispose();
    release(gl, this.material);
    this.quad.dispose();
  }
}
