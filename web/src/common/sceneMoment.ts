import type { StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { toldAt } from "../model/toldAt";

export type SceneMoment = StudyState["scene"]["moments"][number];

/** Lights, view and backdrop of a study at a frame. */
export function sceneMoment(state: StudyState, frame: number): SceneMoment {
  const moments = state.scene.moments as [SceneMoment, ...SceneMoment[]];
  return toldAt(moments, frame, loopOf(documentOf(state)).frames);
}
