import { client, unwrap, type Operation } from "../api/client";
import type { Carried } from "../api/document";
import { useInterface } from "./store/store";
import { useChange } from "./useStep";

/** Attaches things to what carries them, and lets them go; they keep the place they have now. */
export function useAttach(study: string) {
  const change = useChange(study, "");
  const edit = async (label: string, ask: (frame: number) => Promise<Operation[]>) => {
    const { frame, say } = useInterface.getState();
    try {
      change.edit(label, await ask(frame));
    } catch (error) {
      say({ text: error instanceof Error ? error.message : String(error), tone: "error" });
    }
  };
  return {
    /** onSurface : to stick to the nearest point of the piece's surface; smooth : metres over which
     * the motion of the surface there is smoothed */
    attach: (path: string, carrier: Carried | null, label: string, onSurface = false, smooth = 0) =>
      edit(label, async (frame) => {
        const answer = await client.POST("/api/studies/{study_id}/attach", {
          params: { path: { study_id: study } },
          body: { path, carrier, frame, on_surface: onSurface, smooth },
        });
        return unwrap(answer).operations as Operation[];
      }),
    /** Two pieces swap along one front; the second is brought to the first. */
    swap: (first: string, second: string, label: string) =>
      edit(label, async (frame) => {
        const answer = await client.POST("/api/studies/{study_id}/swap", {
          params: { path: { study_id: study } },
          body: { first, second, frame },
        });
        return unwrap(answer).operations as Operation[];
      }),
    /** Of a piece or a marker; what it carries stays where it is. */
    remove: (path: string, label: string) =>
      edit(label, async (frame) => {
        const answer = await client.POST("/api/studies/{study_id}/removal", {
          params: { path: { study_id: study } },
          body: { path, frame },
        });
        return unwrap(answer).operations as Operation[];
      }),
  };
}
