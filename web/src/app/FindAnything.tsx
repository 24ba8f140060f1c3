import { Dialog } from "@mui/material";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useInterface } from "../common/store/store";
import { Finder } from "../find/Finder";
import { useCommands } from "./useCommands";

/** The dialog in which anything is found; commands are gathered only while it is open. */
export function FindAnything(props: { state: StudyState; piece: Piece | undefined }) {
  const open = useInterface((s) => s.dialog === "find");
  const set = useInterface((s) => s.set);
  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} fullWidth maxWidth="sm">
      <Commands {...props} />
    </Dialog>
  );
}

function Commands({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  return <Finder commands={useCommands(state, piece)} />;
}
