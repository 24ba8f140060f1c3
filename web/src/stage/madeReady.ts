import type * as THREE from "three";
import type { OffscreenBuffer, Draws } from "./offscreenBuffer";
import { shading } from "./beforeView";
import { useDetail } from "./useDetail";

/** Nothing was drawn for so long: whoever works by hand is about to begin. */
const IDLE_MS = 400;
/** Pixels for each unit of the page: what takes long is to get ready, not the picture. */
const SMALL = 0.05;

/**
 * Has quick shading ready before the hand needs it. Where the processor draws, shaders are compiled
 * with the first picture that uses them, which would hold up the first drag for a second.
 */
export class MadeReady {
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Shaders that there were when it was last made ready. */
  private known = 0;

  constructor(private readonly buffer: OffscreenBuffer) {}

  /** A picture with full shading was drawn. */
  after(gl: THREE.WebGLRenderer, size: { width: number; height: number }, draw: Draws) {
    this.stop();
    // A look, a mask or points for the first time come with shaders of their own.
    if (shaders(gl) === this.known) return;
    this.timer = setTimeout(() => {
      if (this.buffer.busy || gl.shadowMap.needsUpdate || useDetail.getState().moving) return;
      for (const shade of shading) shade(true);
      // What it looks like does not matter, nor whether there was memory for it.
      void this.buffer.picture(gl, size, SMALL, draw).then(
        ({ picture }) => picture.close(),
        () => undefined,
      );
      for (const shade of shading) shade(false);
      this.known = shaders(gl);
    }, IDLE_MS);
  }

  /** Something moves, which makes it ready itself. */
  stop() {
    clearTimeout(this.timer);
  }
}

function shaders(gl: THREE.WebGLRenderer): number {
  return gl.info.programs?.length ?? 0;
}
