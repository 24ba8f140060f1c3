import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { sceneMoment, type SceneMoment } from "../common/sceneMoment";
import { useLiveScene } from "./liveScene";
import { useOffscreen } from "../common/offscreen";

/** The frame at which the pieces stand: the playhead's, or the one that is drawn off screen. */
export function useMoment(): number {
  const aside = useOffscreen((s) => s.frame);
  const playhead = useInterface((s) => (aside === null ? s.frame : 0));
  return aside ?? playhead;
}

/** Lights, view and backdrop at the frame that is shown, as they are changed in the hand; what stands
 * still stays the same object. */
export function useSceneMoment(state: StudyState): SceneMoment {
  const live = useLiveScene((s) => s.moment);
  const moment = useMoment();
  return live ?? sceneMoment(state, moment);
}
