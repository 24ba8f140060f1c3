import * as THREE from "three";
import { FullScreenQuad } from "three-stdlib";
import { lensPlace, pixelShift } from "./sampling";
import type { ViewTold } from "./studyCamera";
import { WHOLE_SCREEN } from "./wholeScreen";

type Camera = THREE.PerspectiveCamera | THREE.OrthographicCamera;

/**
 * Turns a camera to one of the samples of a picture: a part of a pixel aside, and from a place on its
 * lens. What is as far away as its focus stays where it is in the picture.
 *
 * Called when the camera is where the view is; the camera is left as it was by what is returned.
 * size : pixels of the picture
 */
export function sampleFrom(
  camera: Camera,
  view: ViewTold,
  k: number,
  count: number,
  size: { width: number; height: number },
): () => void {
  const position = camera.position.clone();
  const projection = camera.projectionMatrix.clone();
  const back = camera.projectionMatrixInverse.clone();
  const [x, y] = pixelShift(k, count);
  const cells = camera.projectionMatrix.elements;
  const isFlat = camera instanceof THREE.OrthographicCamera;
  const [across, up] = isFlat ? [12, 13] : [8, 9];
  cells[across] += (2 * x) / size.width;
  cells[up] += (2 * y) / size.height;
  if (!isFlat && view.lens_radius > 0) {
    const [right, above] = lensPlace(k, count, view.blades).map((v) => v * view.lens_radius);
    camera.position
      .addScaledVector(new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0), right)
      .addScaledVector(new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 1), above);
    cells[8] -= (cells[0] * right) / view.focus;
    cells[9] -= (cells[5] * above) / view.focus;
  }
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
  camera.updateMatrixWorld();
  return () => {
    camera.position.copy(position);
    camera.projectionMatrix.copy(projection);
    camera.projectionMatrixInverse.copy(back);
    camera.updateMatrixWorld();
  };
}

/** The mean of some pictures in linear light, with their opacity. */
export class Mean {
  readonly target: THREE.WebGLRenderTarget;
  private readonly uniforms = { picture: { value: null as THREE.Texture | null } };
  private readonly quad: FullScreenQuad;
  private count = 0;

  constructor(gl: THREE.WebGLRenderer) {
    // Where a card cannot add in full precision, half of it is enough for some hundred pictures.
    const isFull = gl.getContext().getExtension("EXT_float_blend") !== null;
    this.target = new THREE.WebGLRenderTarget(1, 1, {
      type: isFull ? THREE.FloatType : THREE.HalfFloatType,
      depthBuffer: false,
    });
    this.quad = new FullScreenQuad(
      new THREE.ShaderMaterial({
        uniforms: this.uniforms,
        depthTest: false,
        depthWrite: false,
        toneMapped: false,
        transparent: true,
        // Each picture takes its share of what is there already.
        blending: THREE.CustomBlending,
        blendSrc: THREE.ConstantAlphaFactor,
        blendDst: THREE.OneMinusConstantAlphaFactor,
        blendSrcAlpha: THREE.ConstantAlphaFactor,
        blendDstAlpha: THREE.OneMinusConstantAlphaFactor,
        vertexShader: WHOLE_SCREEN,
        fragmentShader: /* glsl */ `
uniform sampler2D picture;
varying vec2 at;
void main() {
  gl_FragColor = texture2D(picture, at);
}`,
      }),
    );
  }

  /** Adds a picture; the mean of all so far is in the target. */
  add(gl: THREE.WebGLRenderer, picture: THREE.WebGLRenderTarget) {
    this.count += 1;
    this.target.setSize(picture.width, picture.height);
    this.uniforms.picture.value = picture.texture;
    this.quad.material.blendAlpha = 1 / this.count;
    const { autoClear } = gl;
    gl.autoClear = false;
    gl.setRenderTarget(this.target);
    this.quad.render(gl);
    gl.setRenderTarget(null);
    gl.autoClear = autoClear;
  }

  /** The next that is added is the first. */
  begin() {
    this.count = 0;
  }

  dispose() {
    this.target.dispose();
    this.quad.material.dispose();
    this.quad.dispose();
  }
}
