import { client, unwrap, type Operation, type StudyState } from "../api/client";
import { useInterface } from "./store/store";
import { useChange } from "./useStep";
import { presentEye } from "./eye";

const WAYS = {
  set: { label: "Keep this view", said: "The study’s camera looks from here now." },
  key: { label: "Key the camera", said: "The camera has a key here." },
  new: {
    label: "Keep this view as a camera",
    said: "The study has another camera, which is its own.",
  },
} as const;
export type KeepHow = keyof typeof WAYS;

/** Makes the present view that of the study's camera: always, by keys at the playhead, or as another
 * camera. */
export function useKeepView(state: StudyState): (how: KeepHow) => Promise<void> {
  const change = useChange(state.id, "");
  return async (how) => {
    const { say } = useInterface.getState();
    const frame = Math.round(useInterface.getState().frame);
    const eye = presentEye();
    if (!eye) return;
    try {
      const answer = await client.POST("/api/studies/{study_id}/view", {
        params: { path: { study_id: state.id } },
        body: { position: eye.position, target: eye.target, frame, how },
      });
      await change.stored(WAYS[how].label, unwrap(answer).operations as Operation[]);
      say({ text: WAYS[how].said, tone: "info" });
    } catch (error) {
      say({ text: error instanceof Error ? error.message : String(error), tone: "error" });
    }
  };
}
