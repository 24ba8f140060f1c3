import { useQuery } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../api/client";

export type Finding = Schemas["FindingEntry"];

/** What the program noticed, asked anew after every edit; the last answer stands meanwhile. */
export function useFindings(id: string, revision: number) {
  return useQuery({
    queryKey: ["findings", id, revision],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/findings", {
          params: { path: { study_id: id } },
        }),
      ).findings,
    placeholderData: (before) => before,
    retry: false,
  });
}
