import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { restOf } from "../api/frame";
import { useInterface } from "../common/store/store";

/** The rest shape of a piece as it is shown, (3 P) metres; undefined until it is here. */
export function useRest(study: string, piece: string, key: string, frame: number) {
  const quality = useInterface((s) => s.quality);
  return useQuery({
    queryKey: ["rest", study, piece, key, quality, frame],
    gcTime: 30_000,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const query = new URLSearchParams({ key, frame: String(frame), quality, rest: "true" });
      const answer = await fetch(`/api/studies/${study}/pieces/${piece}/frame?${query}`);
      if (!answer.ok) throw new Error("The rest shape could not be read.");
      return restOf(await answer.arrayBuffer());
    },
  }).data;
}
