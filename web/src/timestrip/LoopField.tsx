import { Box, InputBase } from "@mui/material";
import { useState } from "react";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { figure, parseNumber } from "../model/parse";

interface Props {
  label: string;
  value: number;
  unit: string;
  rate: number;
  least: number;
  most: number;
  store: (value: number) => void;
}

/** Length or rate of the loop: typed, with arithmetic and units. */
export function LoopField(props: Props) {
  const [text, setText] = useState<string | null>(null);
  const say = useInterface((s) => s.say);
  const accept = () => {
    if (text === null) return;
    const parsed = parseNumber(text, props.unit === "frames" ? "frames" : "", props.rate);
    setText(null);
    if ("error" in parsed) {
      say({ text: `${props.label}: ${parsed.error}`, tone: "error" });
      return;
    }
    const value = Math.min(props.most, Math.max(props.least, parsed.value));
    if (value !== props.value) props.store(value);
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", fontSize: 12.5, gap: 0.75 }}>
      <Box component="label" sx={{ width: 44, color: "text.secondary" }}>
        {props.label}
      </Box>
      <InputBase
        value={text ?? figure(props.value)}
        onFocus={(e) => {
          setText(figure(props.value));
          e.target.select();
        }}
        onChange={(e) => setText(e.target.value)}
        onBlur={accept}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") (e.target as HTMLElement).blur();
          if (e.key === "Escape") setText(null);
        }}
        inputProps={{ "aria-label": `${props.label} of the loop, ${props.unit}` }}
        sx={{
          width: 48,
          fontFamily: FIGURES,
          fontSize: 12,
          borderBottom: "1px solid",
          borderColor: "divider",
          "& input": { p: 0 },
        }}
      />
      <span>{props.unit}</span>
    </Box>
  );
}
