import { useQuery } from "@tanstack/react-query";
import { client, unwrap, type StudyState } from "../api/client";
import { useInterface, useParts } from "../common/store/store";
import { restartWords } from "../model/restartWords";

const AGAIN_MS = 500;

/** What a value in the hand will let begin again, in words. It is asked for once for each gesture:
 * how far the value goes makes no difference. */
export function useRestarts(state: StudyState): string {
  const { dragging, live, quality } = useParts("dragging", "live", "quality");
  const paths = live.map((operation) => operation.path).join(" ");
  const found = useQuery({
    queryKey: ["restarts", state.id, state.revision, quality, paths],
    enabled: dragging && paths !== "",
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    // The first value of a gesture may still be the stored one.
    refetchInterval: (query) => (dragging && !query.state.data?.length ? AGAIN_MS : false),
    queryFn: async () =>
      unwrap(
        await client.POST("/api/studies/{study_id}/restarts", {
          params: { path: { study_id: state.id } },
          body: { operations: useInterface.getState().live as never, quality },
        }),
      ).restarts,
  });
  if (!dragging || !found.data) return "";
  return restartWords(found.data, state.motion.length);
}
