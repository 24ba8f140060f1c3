import { useQueryClient } from "@tanstack/react-query";
import type { StudyState } from "../api/client";
import { freshId, documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";

/** Adds a marker where the stage is looked at, and turns to it. */
export function useAddMarker(study: string) {
  const queries = useQueryClient();
  const change = useChange(study, "/markers");
  const set = useInterface((s) => s.set);
  return async () => {
    const state = queries.getQueryData<StudyState>(["study", study]);
    const markers = state ? (documentOf(state).markers ?? []) : [];
    const id = freshId(
      "marker",
      markers.map((m) => m.id),
    );
    const taken = markers.map((m) => m.name);
    let count = markers.length + 1;
    while (taken.includes(`Marker ${count}`)) count += 1;
    const item = { id, name: `Marker ${count}`, place: {} };
    await change.stored(`Add ${item.name}`, [
      { do: "insert", path: "/markers", after: markers.at(-1)?.id ?? null, item: item as never },
    ]);
    set({ marker: id });
  };
}
