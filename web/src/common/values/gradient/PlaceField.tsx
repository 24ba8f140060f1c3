import { InputBase } from "@mui/material";
import { useState } from "react";
import { FIGURES } from "../../theme";

/** Where a stop stands, in percent. */
export function PlaceField({ at, store }: { at: number; store: (at: number) => void }) {
  const shown = String(Number((at * 100).toFixed(2)));
  const [text, setText] = useState(shown);
  const end = () => {
    const typed = Number(text.replace("%", "").trim());
    if (Number.isFinite(typed) && text !== shown) store(Math.max(0, Math.min(100, typed)) / 100);
    else setText(shown);
  };
  return (
    <InputBase
      value={text}
      endAdornment="%"
      onChange={(e) => setText(e.target.value)}
      onBlur={end}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") (e.target as HTMLElement).blur();
      }}
      inputProps={{ "aria-label": "Place of the stop, percent" }}
      sx={{
        width: 58,
        fontFamily: FIGURES,
        fontSize: 12.5,
        "& input": { textAlign: "right", p: 0, pr: 0.5 },
      }}
    />
  );
}
