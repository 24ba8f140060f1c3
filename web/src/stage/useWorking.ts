import { useEffect } from "react";
import { client } from "../api/client";
import { useInterface } from "../common/store/store";
import { frames } from "./frameSource";

const ASKED_EVERY_MS = 400;
/** A step that is done sooner than this needs no bar. */
const LONG_S = 0.7;

/** While frames are waited for, asks the server which step takes long, and tells its row. */
export function useWorking(study: string): void {
  useEffect(() => {
    let waited = false;
    let over = false;
    const tell = (working: Record<string, { piece: string; share: number }>) => {
      const known = useInterface.getState().working;
      if (JSON.stringify(known) !== JSON.stringify(working)) useInterface.setState({ working });
    };
    const ask = async () => {
      const waits = frames.inFlight + frames.previews > 0;
      if (!waits || !waited) {
        waited = waits;
        if (!waits) tell({});
        return;
      }
      const { data } = await client.GET("/api/studies/{study_id}/working", {
        params: { path: { study_id: study } },
      });
      const long = (data?.steps ?? []).filter((s) => s.seconds >= LONG_S);
      if (!over)
        tell(Object.fromEntries(long.map((s) => [s.step, { piece: s.piece, share: s.share }])));
    };
    const timer = window.setInterval(() => void ask().catch(() => undefined), ASKED_EVERY_MS);
    return () => {
      over = true;
      window.clearInterval(timer);
      tell({});
    };
  }, [study]);
}
