import { client, unwrap, type Operation } from "../api/client";
import type { Carried } from "../api/document";
import { useInterface } from "../state/store";
import { useChange } from "./useStep";

/** Attaches things to what carries them, and lets them go; they keep the place they have now. */
export function useAttach(study: string) {
  const change = useChange(study, "");
  return async (path: string, carrier: Carried | null, label: string) => {
    const { frame, say } = useInterface.getState();
    try {
      const answer = await client.POST("/api/studies/{study_id}/attach", {
        params: { path: { study_id: study } },
        body: { path, carrier, frame },
      });
      change.edit(label, unwrap(answer).operations as Operation[]);
    } catch (error) {
      say({ text: error instanceof Error ? error.message : String(error), tone: "error" });
    }
  };
}
