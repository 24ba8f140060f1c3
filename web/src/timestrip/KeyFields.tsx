import { Box, InputBase, Tooltip } from "@mui/material";
import { useState } from "react";
import type { KeyPoint } from "../api/document";
import { FIGURES } from "../common/theme";
import { figure, parseNumber, withUnit } from "../model/parse";

interface FieldProps {
  label: string;
  value: number;
  unit: string;
  rate: number;
  accept: (value: number) => void;
}

/** A number of a key that can be typed, with arithmetic and units. */
function Field({ label, value, unit, rate, accept }: FieldProps) {
  const [text, setText] = useState<string | null>(null);
  const parsed = text === null ? null : parseNumber(text, unit, rate);
  const wrong = parsed && "error" in parsed ? parsed.error : "";
  const end = () => {
    if (parsed && "value" in parsed && parsed.value !== value) accept(parsed.value);
    setText(null);
  };
  return (
    <Tooltip open={wrong !== "" && text !== ""} title={wrong} placement="top">
      <InputBase
        value={text ?? withUnit(value, unit)}
        onFocus={(e) => {
          setText(figure(value));
          const field = e.target;
          requestAnimationFrame(() => field.select());
        }}
        onChange={(e) => setText(e.target.value)}
        onBlur={end}
        onKeyDown={(e) => {
          // The editor's own keys move and remove what is chosen.
          e.stopPropagation();
          if (e.key === "Enter" && !wrong) end();
          if (e.key === "Escape") setText(null);
        }}
        inputProps={{ "aria-label": label, "aria-invalid": wrong !== "" }}
        sx={{
          width: 92,
          fontFamily: FIGURES,
          fontSize: 12.5,
          borderBottom: "1px solid",
          borderColor: wrong ? "error.main" : "divider",
          "& input": { p: 0 },
        }}
      />
    </Tooltip>
  );
}

interface Props {
  chosen: KeyPoint;
  unit: string;
  rate: number;
  write: (key: KeyPoint) => void;
}

/** Where a key stands and what it says, to be typed. */
export function KeyFields({ chosen, unit, rate, write }: Props) {
  return (
    <Box sx={{ display: "flex", gap: 1.5, ml: "auto" }}>
      <Field
        label="Frame of the key"
        value={chosen.frame}
        unit="frames"
        rate={rate}
        accept={(frame) => write({ ...chosen, frame: Math.round(frame * 1000) / 1000 })}
      />
      <Field
        label="Value of the key"
        value={chosen.value}
        unit={unit}
        rate={rate}
        accept={(value) => write({ ...chosen, value })}
      />
    </Box>
  );
}
