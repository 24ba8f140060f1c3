import type { State } from "../common/store/store";

type Looked = Pick<
  State,
  "draw" | "playing" | "turning" | "dragging" | "live" | "four" | "view" | "heat" | "drawing"
>;

/** Why the stage shows its own picture although path tracing is wanted; null where nothing is in the
 * way, "" where it is so for as long as a hand or the loop moves something. */
export function whyNotTraced(looked: Looked): string | null {
  if (looked.playing || looked.turning || looked.dragging || looked.live.length > 0) return "";
  if (looked.four || !["perspective", "camera"].includes(looked.view.name))
    return "Path tracing shows the perspective and the camera";
  if (looked.heat) return "The heat of masks is drawn by the stage";
  if (looked.drawing) return "";
  return null;
}

/** Pixels of the picture that is drawn for a place on the page. */
export function sizeOfPicture(width: number, height: number, ratio: number) {
  // On very fine screens more pixels would only take longer to become clear.
  const scale = Math.min(ratio, 1.5, 2048 / Math.max(width, height));
  const side = (n: number) => Math.max(16, Math.round(n * scale));
  return { width: side(width), height: side(height) };
}

/** What is told of how fine it is. */
export function finenessWords(samples: number | null, of: number): string {
  if (samples === null) return "tracing paths…";
  if (samples === 0) return "a first look";
  if (samples >= of) return `${of} paths a pixel`;
  return `${samples} of ${of} paths a pixel`;
}
