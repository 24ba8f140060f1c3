import type { StudyState } from "../api/client";
import { backdropCss } from "../model/backdropCss";
import { useSceneMoment } from "./useMoment";

/** What is seen behind the stage, as a background of its place. */
export function useBackdrop(state: StudyState): string {
  return backdropCss(useSceneMoment(state).backdrop);
}
