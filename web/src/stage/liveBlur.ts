import type * as THREE from "three";
import type { RefineTo } from "./Refining";
import { Mean, sampleFrom } from "./sampled";

/** Pictures that one is the mean of while something moves, where a graphics card draws. */
const COUNT = 8;

/** Depth of field of pictures that follow one another: each is the mean of a few, drawn at once from
 * places all over the lens. */
export class LiveBlur {
  private mean: Mean | null = null;
  private focus: number | null = null;

  /** Draws into a target of its own. */
  draw(to: RefineTo): THREE.WebGLRenderTarget {
    const { gl, target, eye, finish, finisher } = to;
    const view = { ...to.view, focus: this.focusNow(to) };
    this.mean ??= new Mean(gl);
    this.mean.begin();
    const size = { width: target.width, height: target.height };
    for (let k = 0; k < COUNT; k++) {
      const restore = sampleFrom(eye, view, k, COUNT, size);
      to.draw();
      if (finish) finisher.darken(gl, target, finish, eye);
      restore();
      this.mean.add(gl, target);
    }
    return this.mean.target;
  }

  /** Where a surface is in focus the server finds how far away it is; until it has said so for this
   * frame, that of the frame before is as good. */
  private focusNow({ view, focus }: RefineTo): number {
    if (!view.focus_on) return view.focus;
    void focus().then(
      (distance) => (this.focus = distance),
      () => undefined,
    );
    return this.focus ?? view.focus;
  }

  dispose() {
    this.mean?.dispose();
  }
}
