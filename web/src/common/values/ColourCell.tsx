import Colorize from "@mui/icons-material/Colorize";
import { Box, IconButton, InputBase, Tooltip } from "@mui/material";
import { useState } from "react";
import { typedColour } from "../../model/gradientStops";
import { FIGURES } from "../theme";

interface EyeDropperResult {
  sRGBHex: string;
}
declare global {
  interface Window {
    /** Not in every browser. */
    EyeDropper?: new () => { open: () => Promise<EyeDropperResult> };
  }
}

interface Props {
  value: string;
  label: string;
  live: (colour: string) => void;
  store: (colour: string) => void;
}

/** A colour: picked, typed, or taken from anything that is seen, the stage as well. */
export function ColourCell({ value, label, live, store }: Props) {
  const [text, setText] = useState<string | null>(null);
  const Dropper = window.EyeDropper;
  const take = async () => {
    if (!Dropper) return;
    try {
      store((await new Dropper().open()).sRGBHex.slice(0, 7));
    } catch {
      // Nothing was taken.
    }
  };
  const end = () => {
    const colour = text === null ? null : typedColour(text);
    if (colour !== null && colour !== value) store(colour);
    setText(null);
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.75 }}>
      <Box
        component="input"
        type="color"
        value={value}
        aria-label={label}
        onInput={(e: React.FormEvent<HTMLInputElement>) => live(e.currentTarget.value)}
        onBlur={(e: React.FocusEvent<HTMLInputElement>) =>
          e.currentTarget.value !== value && store(e.currentTarget.value)
        }
        sx={{
          width: 30,
          height: 20,
          p: 0,
          border: "1px solid",
          borderColor: "divider",
          borderRadius: "5px",
          background: "none",
          cursor: "pointer",
          overflow: "hidden",
          "&::-webkit-color-swatch-wrapper": { p: 0 },
          "&::-webkit-color-swatch": { border: 0 },
        }}
      />
      <InputBase
        value={text ?? value}
        onChange={(e) => setText(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={end}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") (e.target as HTMLElement).blur();
          if (e.key === "Escape") setText(null);
        }}
        error={text !== null && typedColour(text) === null}
        inputProps={{ "aria-label": `${label}, as six digits`, maxLength: 12, spellCheck: false }}
        sx={{
          width: 68,
          fontFamily: FIGURES,
          fontSize: 12,
          "&.Mui-error": { color: "error.main" },
          "& input": { p: 0 },
        }}
      />
      {Dropper && (
        <Tooltip title="Take a colour from the stage">
          <IconButton
            aria-label={`Take a colour from the stage: ${label}`}
            onClick={() => void take()}
            sx={{ p: 0.25 }}
          >
            <Colorize sx={{ fontSize: 15 }} />
          </IconButton>
        </Tooltip>
      )}
    </Box>
  );
}
