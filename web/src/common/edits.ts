import { notifyManager, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, ServerError, unwrap, type Edit, type StudyState } from "../api/client";
import { windowId } from "../api/windowId";
import { useInterface } from "./store/store";

/** Store edits, one after the other, each on the newest revision this window knows. */
export function useEdit(id: string) {
  const queries = useQueryClient();
  const { setLive, setClash, say } = useInterface.getState();
  return useMutation({
    scope: { id: `edits-${id}` },
    mutationFn: async ({ label, operations }: Edit) => {
      const revision = queries.getQueryData<StudyState>(["study", id])?.revision ?? 0;
      return unwrap(
        await client.POST("/api/studies/{study_id}/edits", {
          params: { path: { study_id: id } },
          body: { window: await windowId, revision, label, operations },
        }),
      );
    },
    onMutate: () => useInterface.getState().live,
    onSuccess: (state, _edit, shown) => {
      // Both at once, or what was there before would be seen in between.
      notifyManager.batch(() => {
        queries.setQueryData(["study", id], state);
        notifyManager.schedule(() => {
          // What has been changed since is not stored yet, and stays to be seen.
          if (useInterface.getState().live === shown) setLive([]);
        });
      });
    },
    onError: (error, edit) => {
      setLive([]);
      if (error instanceof ServerError && error.body.kind === "clash") {
        setClash({ error: error.body, edit });
      } else {
        say({ text: error.message, tone: "error" });
      }
      void queries.invalidateQueries({ queryKey: ["study", id] });
    },
  });
}

type Way = "undo" | "redo";

/** clashing : what is done where another window has changed the same since; it is refused by default */
interface TakeBack {
  way: Way;
  clashing?: "skip" | "over";
}

export function useTakeBack(id: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: `edits-${id}` },
    mutationFn: async (asked: Way | TakeBack) => {
      const { way, clashing }: TakeBack = typeof asked === "string" ? { way: asked } : asked;
      return unwrap(
        await client.POST(`/api/studies/{study_id}/${way}`, {
          params: { path: { study_id: id } },
          body: { window: await windowId, clashing: clashing ?? "refuse" },
        }),
      );
    },
    onSuccess: (state) => queries.setQueryData(["study", id], state),
    onError: (error, asked) => {
      const { say, setClash } = useInterface.getState();
      const way = typeof asked === "string" ? asked : asked.way;
      if (error instanceof ServerError && error.status === 409)
        setClash({ error: error.body, takeBack: way });
      else say({ text: error.message, tone: "info" });
    },
  });
}

/** Store a new study. */
export function useCreateStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: {
      name?: string;
      form?: string;
      asset?: string;
      document?: Record<string, never>;
    }) => unwrap(await client.POST("/api/studies", { body })),
    onSuccess: (state) => {
      queries.setQueryData(["study", state.id], state);
      void queries.invalidateQueries({ queryKey: ["studies"] });
    },
    onError: (error) => useInterface.getState().say({ text: error.message, tone: "error" }),
  });
}
