import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { client, unwrap, type Lane } from "../api/client";
import type { DocValue, SignalValue } from "../api/document";
import { useInterface } from "./store/store";

/** A signal as it is being dragged and not stored yet, and what it would do over the loop. */
export function useTriedSignal(study: string, path: string, lane: Lane, stored: SignalValue) {
  const dragged = useInterface(
    (s) => s.live.find((o) => o.do === "set" && o.path === path && s.dragging) ?? null,
  );
  const tried = dragged && "value" in dragged ? (dragged.value as unknown as DocValue) : null;
  const text = tried ? JSON.stringify(tried) : "";
  const found = useQuery({
    queryKey: ["signal", study, text],
    enabled: text !== "",
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 5_000,
    queryFn: async () =>
      unwrap(
        await client.POST("/api/studies/{study_id}/signal", {
          params: { path: { study_id: study } },
          body: { signal: JSON.parse(text) as Record<string, never> },
        }),
      ).lane ?? null,
  }).data;
  const shown = tried && found ? { ...lane, ...found, path: lane.path, label: lane.label } : lane;
  return {
    signal: (tried as SignalValue | null) ?? stored,
    lane: { ...shown, unit: lane.unit, each: lane.each },
  };
}
