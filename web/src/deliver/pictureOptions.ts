import type { Schemas } from "../api/client";
import type { StudyDocument } from "../api/document";
import { trailLength } from "../model/trailTimes";
import type { PictureKind } from "./kinds";

export type PictureBody = Schemas["PictureBody"];
export type PixelFormat = NonNullable<PictureBody["pixel_format"]>;
export type Effort = NonNullable<PictureBody["effort"]>;

/** What is chosen for pictures; texts are as they are written. */
export interface PictureChoice {
  /** Id of a camera, or "" for the present view. */
  camera: string;
  /** Pixels of the longer side. */
  long: number;
  first: string;
  last: string;
  step: string;
  /** Pictures a second; "" for as many as the loop has frames. */
  rate: string;
  repeats: string;
  samples: number;
  blur: boolean;
  quality: "draft" | "final";
  transparent: boolean;
  pixelFormat: PixelFormat;
  effort: Effort;
  count: string;
  /** Of a still: how many times as large. */
  times: number;
  handles: boolean;
  /** By the stage, in a window, or by path tracing, in the queue. */
  drawn: "stage" | "traced";
  /** Paths of light for each pixel. */
  paths: number;
  bounces: string;
  noiseRemoval: boolean;
  /** What else of each picture is kept, masks among it. */
  layers: LayerName[];
}

export type LayerName = NonNullable<Schemas["FinalBody"]["layers"]>[number] | "masks";
export const LAYERS: Record<LayerName, string> = {
  depth: "Depth",
  normals: "Normals",
  motion: "Motion",
  albedo: "Albedo",
  shadow: "Shadow",
  pieces: "Single pieces",
  masks: "Masks",
};

export const LONG_SIDES = [640, 1280, 1920, 2560, 3840];
export const SAMPLES: Record<number, string> = {
  1: "1, quick",
  4: "4, smooth edges",
  16: "16, some blur",
  64: "64, soft blur",
};
export const PATHS: Record<number, string> = {
  8: "8, a trial",
  32: "32, draft",
  64: "64, good",
  256: "256, fine",
  1024: "1024, as clean as it gets",
};
const CLIPS: PictureKind[] = ["mp4", "webm", "av1", "clip-page"];
export const PIXEL_FORMATS: Partial<Record<PictureKind, PixelFormat[]>> = {
  mp4: ["yuv420p", "yuv444p", "yuv420p10le"],
  "clip-page": ["yuv420p"],
  webm: ["yuv420p", "yuv444p"],
  av1: ["yuv420p", "yuv420p10le"],
};
export const PIXEL_WORDS: Record<PixelFormat, string> = {
  yuv420p: "4:2:0, 8 bits (plays everywhere)",
  yuv444p: "4:4:4, 8 bits (sharp colours)",
  yuv420p10le: "4:2:0, 10 bits (smooth gradients)",
  yuva420p: "4:2:0 with opacity",
};

/** What of the choice a kind has a use for. */
export function usedBy(kind: PictureKind) {
  const clip = CLIPS.includes(kind);
  const sequence = kind === "png" || kind === "exr";
  const moving = clip || kind === "gif" || kind === "webp";
  return {
    frames: moving || sequence || kind === "sheet",
    step: moving || sequence,
    rate: moving || sequence,
    layers: sequence,
    repeats: moving,
    effort: clip || kind === "webp",
    pixels: clip,
    transparent: !["mp4", "av1", "clip-page", "sheet", "seam", "exr"].includes(kind),
    count: kind === "sheet",
    times: kind === "still",
    blur: kind !== "seam",
  };
}

/** Width and height of a picture in a format, both even, as clips want them. */
export function sizeFor(long: number, aspect: number): { width: number; height: number } {
  const even = (n: number) => Math.max(16, 2 * Math.round(n / 2));
  return aspect >= 1
    ? { width: even(long), height: even(long / aspect) }
    : { width: even(long * aspect), height: even(long) };
}

/** Kinds whose pictures do not follow one another. */
const APART: PictureKind[] = ["still", "sheet", "seam"];

/**
 * What is said of frames that are drawn for trails alone: those before a picture, of which something
 * is left in it. A whole loop has them of its own end. share : of a picture that is left after each
 * frame
 */
export function trailWords(
  kind: PictureKind,
  { first, last }: Pick<PictureChoice, "first" | "last">,
  { frames }: { frames: number },
  share: number,
): string {
  const length = trailLength(share, frames);
  const whole = Number(first) === 0 && Number(last) === frames - 1;
  if (!length || (whole && !APART.includes(kind))) return "";
  const before = length === 1 ? "the frame" : `up to ${length} frames`;
  return `${before} before ${kind === "still" ? "it" : "these"}, which are drawn as well`;
}

/** A whole number that was written, or the reason why it is none. */
function whole(text: string, name: string): number {
  const found = Number(text);
  if (!text.trim() || !Number.isInteger(found) || found < 0)
    throw new Error(`${name} takes a whole number, not “${text}”.`);
  return found;
}

interface Around {
  study: string;
  /** Of the camera, or of the present view. */
  aspect: number;
  frame: number;
  eye: PictureBody["eye"];
  /** Address of the row that is open, or "". */
  row: string;
  /** Steps with masks of what is seen. */
  masks: Schemas["MaskOf"][];
}

/** All steps with masks, of pieces that are seen. */
export function masksOf(pieces: StudyDocument["pieces"]): Schemas["MaskOf"][] {
  return pieces
    .filter((piece) => piece.visible !== false)
    .flatMap((piece) =>
      piece.recipe
        .filter((step) => step.where?.layers?.length)
        .map((step) => ({ piece: piece.id, step: step.id })),
    );
}

/** What is asked of the server. Throws an Error that says what is written wrongly. */
export function bodyOf(kind: PictureKind, chosen: PictureChoice, around: Around): PictureBody {
  const used = usedBy(kind);
  const { width, height } = sizeFor(chosen.long, around.aspect);
  const times = used.times ? chosen.times : 1;
  const rate = chosen.rate.trim() ? Number(chosen.rate) : null;
  if (rate !== null && !(rate >= 0.5 && rate <= 240))
    throw new Error(`The rate is from 0.5 to 240 pictures a second, not “${chosen.rate}”.`);
  const transparent = used.transparent && chosen.transparent;
  const at = Math.round(around.frame);
  return {
    study: around.study,
    kind,
    width: width * times,
    height: height * times,
    first: used.frames ? whole(chosen.first, "The first frame") : kind === "seam" ? 0 : at,
    last: used.frames ? whole(chosen.last, "The last frame") : kind === "seam" ? 0 : at,
    step: used.step ? Math.max(1, whole(chosen.step, "The step")) : 1,
    rate: used.rate ? rate : null,
    repeats: used.repeats ? Math.max(1, whole(chosen.repeats, "How often")) : 1,
    samples: chosen.samples,
    blur: used.blur && chosen.blur,
    quality: chosen.quality,
    camera: chosen.camera || null,
    eye: chosen.camera ? null : around.eye,
    transparent,
    pixel_format:
      kind === "webm" && transparent ? "yuva420p" : used.pixels ? chosen.pixelFormat : "yuv420p",
    effort: chosen.effort,
    count: used.count ? whole(chosen.count, "How many frames") : 12,
    handles: chosen.handles && chosen.drawn === "stage" ? around.row : "",
  };
}

/** What is asked for of path tracing. Throws an Error that says what is written wrongly. */
export function finalBodyOf(
  kind: PictureKind,
  chosen: PictureChoice,
  around: Around,
): Schemas["FinalBody"] {
  const layered = usedBy(kind).layers;
  const bounces = whole(chosen.bounces, "Bounces");
  if (bounces < 1 || bounces > 64)
    throw new Error(`Bounces are from 1 to 64, not “${chosen.bounces}”.`);
  const asked: Partial<PictureBody> & Schemas["FinalBody"] = {
    ...bodyOf(kind, chosen, around),
    samples: chosen.paths,
    bounces,
    noise_removal: chosen.noiseRemoval,
    clamp: 10,
    layers: layered ? chosen.layers.filter((name) => name !== "masks") : [],
    masks: layered && chosen.layers.includes("masks") ? around.masks : [],
  };
  // Handles are drawn by the stage only.
  delete asked.handles;
  return asked;
}
