import type * as THREE from "three";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { useFlat } from "./flatView";

const told = new WeakMap<StudyState["motion"], string>();

/** What the pieces of a study look like over the loop, as a text that differs where they do. */
function piecesTold(state: StudyState, quality: "draft" | "final"): string {
  const visible = documentOf(state).pieces.filter((p) => p.visible !== false);
  let places = told.get(state.motion);
  if (places === undefined) {
    const ofPieces = state.motion.map((m) => m.places);
    places = JSON.stringify([ofPieces, documentOf(state).markers, state.scene]);
    told.set(state.motion, places);
  }
  const keys = state.motion.map((m) => `${m.id}:${quality === "final" ? m.final_key : m.key}`);
  return [state.id, visible.map((p) => p.id).join(), keys.join(), places].join("|");
}

/**
 * All that a picture of a frame shows besides the frame itself, as a text; null while it is not the
 * stored study as it would play that is shown, or something on it answers the pointer.
 */
export function sceneOf(
  state: StudyState,
  camera: THREE.Camera,
  size: { width: number; height: number },
): string | null {
  const s = useInterface.getState();
  if (s.live.length || s.solo || s.gripSays || s.tool || s.drawing || s.table || s.stageError)
    return null;
  const flat = useFlat.getState();
  return [
    piecesTold(state, s.quality),
    [s.view.name, s.four, s.draw, s.quality, s.seamShown, s.shards].join(),
    // The mask that is shown as heat; of handles there are none while it plays.
    s.heat ? [s.piece, s.step].join() : "",
    [size.width, size.height].join("x"),
    camera.matrixWorld.elements.map((v) => v.toPrecision(6)).join(),
    camera.projectionMatrix.elements.map((v) => v.toPrecision(6)).join(),
    [...flat.centre.toArray(), flat.perPixel].map((v) => v.toPrecision(6)).join(),
  ].join("\n");
}
