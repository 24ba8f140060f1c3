import { useQueryClient } from "@tanstack/react-query";
import { useContext } from "react";
import type { StudyState } from "../../api/client";
import { StepPlace } from "./stepPlace";

/** The study that the values around belong to, and where in it they are. */
export function useStateAround() {
  const place = useContext(StepPlace);
  const queries = useQueryClient();
  const state = place && queries.getQueryData<StudyState>(["study", place.study]);
  return { place, state };
}
