import * as THREE from "three";
import { beforeView } from "./beforeView";
import { Finish, isFinished, makeTarget } from "./finish";
import type { Standing } from "./PictureScene";
import { Mean, sampleFrom } from "./sampled";
import { reachOf } from "./shownBox";
import { drawsInSoftware } from "./software";
import { screenRatio, STAGE_ROWS } from "./screenRatio";
import { Trails } from "./trails";
import { aimAt, frameWithin, type ViewTold } from "./studyCamera";

const SAMPLES = 4;
/** The mean of so many pictures has smooth rims by itself. */
const SMOOTH = 4;

interface Size {
  width: number;
  height: number;
}

/** Takes pictures of a size, each the mean of some samples. */
export class PictureTaker {
  private readonly finisher = new Finish();
  private target: THREE.WebGLRenderTarget | null = null;
  private readonly flat = new THREE.OrthographicCamera();
  private mean: Mean | null = null;
  private trails: Trails | null = null;

  constructor(
    private readonly size: Size,
    private readonly count: number,
  ) {}

  /** Adds one of the samples of a picture. view : what is seen, the picture's own format filled */
  sample({ gl, scene, camera, moment, box }: Standing, view: ViewTold, k: number) {
    const { width, height } = this.size;
    this.mean ??= new Mean(gl);
    // Where the processor draws, samples of a pixel take long, and the mean has smooth rims anyway.
    const many = this.count >= SMOOTH && drawsInSoftware(gl.getContext());
    this.target ??= makeTarget(many ? 0 : SAMPLES);
    if (k === 0) this.mean.begin();
    const eye = view.height === null ? camera : this.flat;
    const share = frameWithin(this.size, view.aspect, 1).height;
    aimAt(eye, view, share, width / height, reachOf(box));
    const restore = sampleFrom(eye, view, k, this.count, this.size);
    gl.shadowMap.needsUpdate = true;
    screenRatio.value = height / STAGE_ROWS;
    this.target.setSize(width, height);
    for (const prepare of beforeView) prepare(eye);
    gl.setRenderTarget(this.target);
    gl.render(scene, eye);
    gl.setRenderTarget(null);
    this.finisher.darken(gl, this.target, moment.finish, eye);
    this.mean.add(gl, this.target);
    restore();
  }

  /** Leaves the picture of which all samples are there as a trail of those to come. frames :
   * since the one before it; null where nothing is left of that */
  leaveTrail({ gl, moment }: Standing, frames: number | null) {
    this.trails ??= new Trails();
    if (frames === null) this.trails.begin();
    this.trails.add(gl, this.mean!.target, moment.finish, frames ?? 1);
  }

  /** The picture of which all samples are there, with its trails where it left one: RGBA from the
   * top, colours multiplied by opacity. */
  finished({ gl, moment }: Standing): Uint8Array<ArrayBuffer> {
    const { width, height } = this.size;
    const finish = isFinished(moment.finish) ? moment.finish : null;
    const trailed = moment.finish.trails > 0 && this.trails;
    this.finisher.render(gl, trailed ? trailed.target : this.mean!.target, finish);
    const context = gl.getContext();
    const pixels = new Uint8Array(width * height * 4);
    context.readPixels(0, 0, width, height, context.RGBA, context.UNSIGNED_BYTE, pixels);
    return upsideDown(pixels, width, height);
  }
}

/** Rows in the other order. */
export function upsideDown(pixels: Uint8Array, width: number, height: number) {
  const turned = new Uint8Array(pixels.length);
  const row = width * 4;
  for (let y = 0; y < height; y++)
    turned.set(pixels.subarray(y * row, (y + 1) * row), (height - 1 - y) * row);
  return turned;
}
