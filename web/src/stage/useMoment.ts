import type { StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { toldAt } from "../model/toldAt";
import { useOffscreen } from "../common/offscreen";

export type SceneMoment = StudyState["scene"]["moments"][number];

/** The frame at which the pieces stand: the playhead's, or the one that is drawn off screen. */
export function useMoment(): number {
  const aside = useOffscreen((s) => s.frame);
  const playhead = useInterface((s) => (aside === null ? s.frame : 0));
  return aside ?? playhead;
}

/** Lights, view and backdrop of a study at a frame. */
export function sceneMoment(state: StudyState, frame: number): SceneMoment {
  const moments = state.scene.moments as [SceneMoment, ...SceneMoment[]];
  return toldAt(moments, frame, loopOf(documentOf(state)).frames);
}

/** The same at the frame that is shown; one that stands still stays the same object. */
export function useSceneMoment(state: StudyState): SceneMoment {
  return sceneMoment(state, useMoment());
}
