import * as THREE from "three";
import { UnrealBloomPass } from "three/addons/postprocessing/UnrealBloomPass.js";
import { FullScreenQuad } from "three-stdlib";
import type { Schemas } from "../api/client";
import { release } from "./keptShaders";
import { Occlusion } from "./occlusion";
import { WHOLE_SCREEN } from "./wholeScreen";

export type FinishTold = Schemas["FinishTold"];

/** Whether the picture as a whole is worked on, besides its exposure. */
export function isFinished(finish: FinishTold): boolean {
  const { contrast, bloom, occlusion, vignette, trails } = finish;
  return contrast !== 0 || bloom > 0 || occlusion > 0 || vignette > 0 || trails > 0;
}

const SCREEN = /* glsl */ `
uniform sampler2D picture;
uniform float contrast;
uniform float vignette;
varying vec2 at;
// An S about the middle of the greys; below 0 the other way, towards the middle.
vec3 toned(vec3 c) {
  vec3 curve = c * c * (3.0 - 2.0 * c);
  return contrast > 0.0 ? mix(c, curve, contrast) : mix(c, vec3(0.5), -contrast * 0.5);
}
void main() {
  vec4 light = texture2D(picture, at);
  // Rims are mixed with what is behind them by the page, so opacity is taken out and put back.
  gl_FragColor = vec4(light.rgb / max(light.a, 1e-4), clamp(light.a, 0.0, 1.0));
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
  gl_FragColor.rgb = toned(clamp(gl_FragColor.rgb, 0.0, 1.0)) * gl_FragColor.a;
  // Light that shines beyond what it comes from, over the page: added, as light is.
  float corner = length(at - 0.5) * 1.4142;
  float dark = 1.0 - vignette * smoothstep(0.35, 1.1, corner);
  gl_FragColor.rgb *= dark;
  gl_FragColor.a = 1.0 - (1.0 - gl_FragColor.a) * dark;
}`;

/** Brings linear light with its opacity to the screen: bloom and darker corners on the light itself,
 * then tone, the screen's curve, contrast and vignette. */
export class Finish {
  private readonly uniforms = {
    picture: { value: null as THREE.Texture | null },
    contrast: { value: 0 },
    vignette: { value: 0 },
  };
  private readonly material = new THREE.ShaderMaterial({
    uniforms: this.uniforms,
    depthTest: false,
    depthWrite: false,
    blending: THREE.NoBlending,
    vertexShader: WHOLE_SCREEN,
    fragmentShader: SCREEN,
  });
  private readonly quad = new FullScreenQuad(this.material);
  private bloom: UnrealBloomPass | null = null;
  private occlusion: Occlusion | null = null;

  /** Darkens where surfaces are close. camera : of the one view that the target shows */
  darken(
    gl: THREE.WebGLRenderer,
    target: THREE.WebGLRenderTarget,
    finish: FinishTold,
    camera: THREE.Camera,
  ) {
    if (finish.occlusion <= 0) return;
    this.occlusion ??= new Occlusion();
    this.occlusion.render(gl, target, camera, finish.occlusion, finish.occlusion_radius);
  }

  /** finish : null where nothing is done but to bring it to the screen */
  render(gl: THREE.WebGLRenderer, target: THREE.WebGLRenderTarget, finish: FinishTold | null) {
    if (finish && finish.bloom > 0) this.shine(gl, target, finish);
    this.uniforms.picture.value = target.texture;
    this.uniforms.contrast.value = finish?.contrast ?? 0;
    this.uniforms.vignette.value = finish?.vignette ?? 0;
    this.quad.render(gl);
  }

  private shine(gl: THREE.WebGLRenderer, target: THREE.WebGLRenderTarget, finish: FinishTold) {
    const { width, height } = target;
    this.bloom ??= new UnrealBloomPass(new THREE.Vector2(width, height), 1, 0.4, 1);
    this.bloom.setSize(width, height);
    this.bloom.strength = finish.bloom;
    this.bloom.radius = finish.bloom_size;
    this.bloom.threshold = finish.bloom_from / gl.toneMappingExposure;
    const tone = gl.toneMapping;
    // Light is still light here.
    gl.toneMapping = THREE.NoToneMapping;
    this.bloom.render(gl, target, target, 0, false);
    gl.toneMapping = tone;
    gl.setRenderTarget(null);
  }

  dispose(gl: THREE.WebGLRenderer) {
    release(gl, this.material);
    this.quad.dispose();
    this.bloom?.dispose();
    this.occlusion?.dispose(gl);
  }
}

/** Linear light with its opacity and its depths. */
export function makeTarget(samples: number): THREE.WebGLRenderTarget {
  return new THREE.WebGLRenderTarget(1, 1, {
    samples,
    type: THREE.HalfFloatType,
    depthTexture: new THREE.DepthTexture(1, 1, THREE.UnsignedIntType),
  });
}
