import type * as THREE from "three";
import { allDone } from "./offscreenBuffer";
import type { Finish, FinishTold } from "./finish";
import { Mean, sampleFrom } from "./sampled";
import type { ViewTold } from "./studyCamera";

/** Pictures that a blurred one is the mean of, on the stage. */
const COUNT = 32;
/** Nothing was drawn for so long: the picture is at rest. */
const IDLE_MS = 250;

export interface RefineTo {
  gl: THREE.WebGLRenderer;
  target: THREE.WebGLRenderTarget;
  eye: THREE.PerspectiveCamera;
  view: ViewTold;
  /** Null where the picture is only brought to the screen. */
  finish: FinishTold | null;
  finisher: Finish;
  /** Draws into the target what the eye sees. */
  draw: () => void;
  /** Distance at which it is sharp, metres. */
  focus: () => Promise<number>;
}

/**
 * Depth of field on the stage: once nothing moves, the picture is drawn again and again from other
 * places of the lens, and what is shown is the mean of all so far.
 */
export class Refining {
  private mean: Mean | null = null;
  private run = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** A picture was drawn from the middle of the lens; it becomes softer from now on. */
  after(to: RefineTo) {
    const own = this.stop();
    this.timer = setTimeout(() => void this.refine(to, own).catch(() => undefined), IDLE_MS);
  }

  /** Something else is to be seen. */
  stop(): number {
    clearTimeout(this.timer);
    return ++this.run;
  }

  private async refine(to: RefineTo, own: number) {
    const { gl, target, eye, finish, finisher } = to;
    const view = { ...to.view, focus: await to.focus() };
    this.mean ??= new Mean(gl);
    this.mean.begin();
    const size = { width: target.width, height: target.height };
    for (let k = 0; k < COUNT; k++) {
      await allDone(gl.getContext() as WebGL2RenderingContext);
      if (own !== this.run) return;
      const restore = sampleFrom(eye, view, k, COUNT, size);
      to.draw();
      if (finish) finisher.darken(gl, target, finish, eye);
      restore();
      this.mean.add(gl, target);
      // Bloom is added to the light itself: to the mean once all of it is there.
      const shines = k === COUNT - 1;
      finisher.render(
        gl,
        this.mean.target,
        finish && { ...finish, bloom: shines ? finish.bloom : 0 },
      );
      gl.domElement.dataset.refined = String(k + 1);
    }
  }

  dispose() {
    this.stop();
    this.mean?.dispose();
  }
}
