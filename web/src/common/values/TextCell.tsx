import { TextField } from "@mui/material";
import { useState } from "react";

/** Plain text; Enter ends it, with Shift it begins another line. */
export function TextCell(props: { label: string; text: string; store: (v: string) => void }) {
  const [text, setText] = useState(props.text);
  return (
    <TextField
      variant="standard"
      size="small"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== props.text && props.store(text)}
      multiline
      maxRows={4}
      onKeyDown={(e) => {
        e.stopPropagation();
        // With Shift it begins another line.
        if (e.key === "Enter" && !e.shiftKey) {
          e.preventDefault();
          (e.target as HTMLElement).blur();
        }
      }}
      slotProps={{ htmlInput: { "aria-label": props.label } }}
    />
  );
}
