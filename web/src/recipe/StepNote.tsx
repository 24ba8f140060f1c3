import { Box, InputBase, Typography } from "@mui/material";
import { useState } from "react";
import type { Step } from "../api/document";
import { useInterface } from "../common/store/store";
import { PlainButton } from "../common/PlainButton";

const LONGEST = 2000;

/** What somebody wrote about a step; a click changes it. */
export function StepNote({ step, store }: { step: Step; store: (note: string) => void }) {
  const writing = useInterface((s) => s.noting === step.id);
  const set = useInterface((s) => s.set);
  if (writing) return <NoteField note={step.note ?? ""} store={store} />;
  if (!step.note) return null;
  return (
    <PlainButton
      aria-label={`Note: ${step.note}. Change it`}
      onClick={() => set({ noting: step.id })}
      sx={{ display: "block", cursor: "text", pl: "44px", pr: 2, pb: 0.75 }}
    >
      <NoteText note={step.note} whole />
    </PlainButton>
  );
}

/** A note as it is read: whole, or its first line. */
export function NoteText({ note, whole = false }: { note: string; whole?: boolean }) {
  return (
    <Typography
      variant="body2"
      component="span"
      noWrap={!whole}
      sx={{
        display: "block",
        fontStyle: "italic",
        whiteSpace: whole ? "pre-line" : undefined,
        overflowWrap: "anywhere",
        color: "text.secondary",
      }}
    >
      {note}
    </Typography>
  );
}

function NoteField({ note, store }: { note: string; store: (note: string) => void }) {
  const [text, setText] = useState(note);
  const { set } = useInterface.getState();
  const end = (kept: boolean) => {
    set({ noting: null });
    if (kept && text.trim() !== note) store(text.trim());
  };
  return (
    <Box sx={{ pl: "44px", pr: 2, pb: 1 }}>
      <InputBase
        autoFocus
        multiline
        fullWidth
        maxRows={8}
        value={text}
        placeholder="What this step is for"
        onChange={(e) => setText(e.target.value)}
        onBlur={() => end(true)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") end(false);
          else if (e.key === "Enter" && !e.shiftKey) {
            e.preventDefault();
            end(true);
          }
        }}
        inputProps={{ "aria-label": "Note", maxLength: LONGEST }}
        sx={{
          px: 1,
          py: 0.25,
          fontSize: 13,
          fontStyle: "italic",
          borderRadius: 1,
          border: "1px solid",
          borderColor: "roles.what",
        }}
      />
    </Box>
  );
}
