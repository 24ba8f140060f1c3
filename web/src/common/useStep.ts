import type { Operation } from "../api/client";
import type { DocValue } from "../api/document";
import { useEdit } from "./edits";
import { useInterface } from "./store/store";

/** Ways to change what lies under a path: shown at once while dragging, stored when it ends. */
export function useChange(study: string, base: string) {
  const edit = useEdit(study);
  const set = useInterface((s) => s.set);
  const one = (name: string, value: unknown): Operation => ({
    do: "set",
    path: `${base}/${name}`,
    value: value as never,
  });
  return {
    // What is typed comes slowly enough for the full picture.
    live: (name: string, value: DocValue) =>
      set({ live: [one(name, value)], dragging: typeof value !== "string" }),
    store: (name: string, value: unknown, label: string) => {
      // Until the server has answered, the stage keeps showing the change.
      set({ live: [one(name, value)], dragging: false });
      edit.mutate({ label, operations: [one(name, value)] });
    },
    edit: (label: string, operations: Operation[]) => edit.mutate({ label, operations }),
    /** Resolves when the server has stored it. */
    stored: (label: string, operations: Operation[]) => edit.mutateAsync({ label, operations }),
  };
}
