import type { Edit, ErrorBody } from "../../api/client";
import type { Slice } from "./slice";

export interface Notice {
  text: string;
  tone: "info" | "error";
  action?: { label: string; run: () => void };
}

/** What stands over the page: dialogs, sheets, and what is said. */
export interface Messages {
  notice: Notice | null;
  /** What clashed: an edit, or taking one back. */
  clash: { error: ErrorBody; edit?: Edit; takeBack?: "undo" | "redo" } | null;
  dialog: "find" | "keys" | "deliver" | "history" | "add" | "piece" | "exchange" | "front" | null;
  /** What stands over the right side of the stage. */
  sheet: "findings" | "variants" | "light" | "camera" | null;
  setClash: (clash: Messages["clash"]) => void;
  say: (notice: Notice) => void;
}

function closed() {
  return { clash: null, dialog: null, sheet: null };
}

export const messages: Slice<Messages, keyof ReturnType<typeof closed>> = {
  create: (set) => ({
    ...closed(),
    notice: null,
    setClash: (clash) => set({ clash }),
    say: (notice) => set({ notice }),
  }),
  perStudy: closed,
};
