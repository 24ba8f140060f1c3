import * as THREE from "three";

/** Colours of a picture are multiplied by its opacity, as the screen has them; a bitmap's are not. */
export function withoutOpacity(pixels: Uint8ClampedArray): void {
  for (let k = 3; k < pixels.length; k += 4) {
    const opacity = pixels[k];
    if (opacity === 255 || opacity === 0) continue;
    for (let c = k - 3; c < k; c++) pixels[c] = (pixels[c] * 255) / opacity;
  }
}

/** How often it is asked whether a picture is done, in ms. */
const ASKED_EVERY_MS = 2;

/**
 * Wait until everything that was asked of the graphics card is done. Reading then costs next to
 * nothing; three.js's own way, through a buffer on the card, takes a processor 60 ns a pixel.
 */
export async function allDone(context: WebGL2RenderingContext): Promise<void> {
  const sync = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0);
  context.flush();
  if (!sync) return;
  while (context.clientWaitSync(sync, 0, 0) === context.TIMEOUT_EXPIRED)
    await new Promise((ready) => setTimeout(ready, ASKED_EVERY_MS));
  context.deleteSync(sync);
}

/** What draws all that is looked at, with so many pixels for each unit of the page. */
export type Draws = (into: THREE.WebGLRenderTarget, resolution: number) => void;

/**
 * A buffer beside the screen. What is drawn in it is read when the graphics card, or the processor
 * in its place, is done with it, and nothing waits meanwhile.
 */
export class OffscreenBuffer {
  private readonly target = new THREE.WebGLRenderTarget(1, 1, { colorSpace: THREE.SRGBColorSpace });
  /** A picture is on its way; there is one at a time. */
  busy = false;

  constructor() {
    // So that three.js draws in it with the tone and the colours of the screen, once and not again
    // as a texture that is in the screen's colours would.
    this.target.texture.internalFormat = "RGBA8";
    (this.target as THREE.WebGLRenderTarget & { isXRRenderTarget: boolean }).isXRRenderTarget =
      true;
  }

  /** A picture, and the milliseconds that it took. */
  async picture(
    gl: THREE.WebGLRenderer,
    size: { width: number; height: number },
    resolution: number,
    draw: Draws,
  ): Promise<{ picture: ImageBitmap; ms: number }> {
    const started = performance.now();
    this.busy = true;
    try {
      const width = Math.max(1, Math.round(size.width * resolution));
      const height = Math.max(1, Math.round(size.height * resolution));
      this.target.setSize(width, height);
      draw(this.target, resolution);
      const data = new ImageData(width, height);
      await allDone(gl.getContext() as WebGL2RenderingContext);
      const bytes = new Uint8Array(data.data.buffer);
      gl.readRenderTargetPixels(this.target, 0, 0, width, height, bytes);
      withoutOpacity(data.data);
      // Its first row is the lowest.
      const picture = await createImageBitmap(data, { imageOrientation: "flipY" });
      return { picture, ms: performance.now() - started };
    } finally {
      this.busy = false;
    }
  }

  dispose() {
    this.target.dispose();
  }
}
