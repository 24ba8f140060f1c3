import type * as THREE from "three";
import type { OffscreenBuffer, Draws } from "./offscreenBuffer";
import { layer } from "./KeptLayer";
import { drawn, tookOffscreen } from "./useDetail";

/**
 * Pictures of what moves under the hand, where the processor draws: each is drawn off screen and shown
 * when it is done, so that the pointer and new frames are heard of meanwhile. One at a time: of what
 * is wished for while it is drawn, only the last is drawn next.
 */
export class InteractivePictures {
  private again = false;
  private wanted = 0;

  /** invalidate : asks for the next picture; seen : called when one is shown */
  constructor(
    private readonly buffer: OffscreenBuffer,
    private readonly invalidate: () => void,
    private readonly seen: () => void,
  ) {}

  draw(
    gl: THREE.WebGLRenderer,
    size: { width: number; height: number },
    resolution: number,
    draw: Draws,
  ) {
    if (this.buffer.busy) {
      this.again = true;
      return;
    }
    this.again = false;
    const wanted = ++this.wanted;
    this.buffer
      .picture(gl, size, resolution, draw)
      .then(({ picture, ms }) => {
        if (wanted === this.wanted) {
          layer.show(picture, null);
          gl.domElement.dataset.detail = "quick";
          this.seen();
        }
        picture.close();
        drawn.pictures += 1;
        for (const hear of tookOffscreen) hear(ms);
      })
      // Without memory for it the one before stays until there is some.
      .catch(() => undefined)
      .finally(() => {
        if (this.again) this.invalidate();
      });
  }

  /** What is still drawn is not shown any more. */
  drop() {
    this.wanted += 1;
    this.again = false;
  }
}
