import * as THREE from "three";

/** Colours of a picture are multiplied by its opacity, as the screen has them; a bitmap's are not. */
export function withoutOpacity(pixels: Uint8ClampedArray): void {
  for (let k = 3; k < pixels.length; k += 4) {
    const opacity = pixels[k];
    if (opacity === 255 || opacity === 0) continue;
    for (let c = k - 3; c < k; c++) pixels[c] = (pixels[c] * 255) / opacity;
  }
}

/**
 * A buffer beside the screen. What is drawn in it is read when the graphics card, or the processor
 * in its place, is done with it, and nothing waits meanwhile.
 */
export class AsideBuffer {
  readonly target = new THREE.WebGLRenderTarget(1, 1, { colorSpace: THREE.SRGBColorSpace });

  constructor() {
    // So that three.js draws in it with the tone and the colours of the screen.
    (this.target as THREE.WebGLRenderTarget & { isXRRenderTarget: boolean }).isXRRenderTarget =
      true;
  }

  setSize(width: number, height: number) {
    this.target.setSize(width, height);
  }

  /** The picture that was drawn last. */
  async read(gl: THREE.WebGLRenderer): Promise<ImageBitmap> {
    const { width, height } = this.target;
    const data = new ImageData(width, height);
    await gl.readRenderTargetPixelsAsync(
      this.target,
      0,
      0,
      width,
      height,
      new Uint8Array(data.data.buffer),
    );
    withoutOpacity(data.data);
    // Its first row is the lowest.
    return createImageBitmap(data, { imageOrientation: "flipY" });
  }

  dispose() {
    this.target.dispose();
  }
}
