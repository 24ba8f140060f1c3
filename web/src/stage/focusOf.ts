import { client, unwrap, type StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import type { ViewTold } from "./studyCamera";

let known: { key: string; distance: number } | null = null;

/** How far away the study's camera is sharp at a frame, metres; on a surface the server finds it. */
export async function focusOf(state: StudyState, view: ViewTold, frame: number): Promise<number> {
  if (!view.focus_on) return view.focus;
  const { quality, live } = useInterface.getState();
  // What is changed in the hand is not known to the server yet.
  if (live.length) return known?.distance ?? view.focus;
  const key = [state.id, state.revision, frame, quality].join();
  if (known?.key === key) return known.distance;
  const answer = await client.GET("/api/studies/{study_id}/focus", {
    params: { path: { study_id: state.id }, query: { frame, quality } },
  });
  known = { key, distance: unwrap(answer).distance };
  return known.distance;
}
