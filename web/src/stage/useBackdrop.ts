import type { StudyState } from "../api/client";
import { useSceneMoment } from "./useMoment";

const percent = (share: number) => `${Number((share * 100).toFixed(2))}%`;

/** What is seen behind the stage, as a background of its place. */
export function useBackdrop(state: StudyState): string {
  const { middle, stops } = useSceneMoment(state).backdrop;
  const colours = stops.map(({ at, colour }) => `${colour} ${percent(at)}`).join(", ");
  return `radial-gradient(circle at ${percent(middle[0])} ${percent(middle[1])}, ${colours})`;
}
