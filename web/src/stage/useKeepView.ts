import { client, unwrap, type Operation, type StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { presentEye } from "./eye";

/** Makes the present view that of the study's camera. */
export function useKeepView(state: StudyState): () => Promise<void> {
  const change = useChange(state.id, "");
  return async () => {
    const { frame, say } = useInterface.getState();
    const eye = presentEye();
    if (!eye) return;
    try {
      const answer = await client.POST("/api/studies/{study_id}/view", {
        params: { path: { study_id: state.id } },
        body: { ...eye, frame },
      });
      await change.stored("Keep this view", unwrap(answer).operations as Operation[]);
      say({ text: "The study opens with this view now.", tone: "info" });
    } catch (error) {
      say({ text: error instanceof Error ? error.message : String(error), tone: "error" });
    }
  };
}
