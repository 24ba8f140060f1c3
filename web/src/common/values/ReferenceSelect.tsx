import { MenuItem, Select } from "@mui/material";
import type { ReactNode } from "react";

interface Props {
  value: string;
  label: string;
  pick: (value: string) => void;
  /** Whether what was chosen is not there any more. */
  gone: boolean;
  /** What is said of that, and where nothing was chosen yet. */
  words: { gone: string; none: string };
  children: ReactNode;
}

/** Chooses another part of the study. */
export function ReferenceSelect({ value, label, pick, gone, words, children }: Props) {
  return (
    <Select
      value={value}
      displayEmpty
      error={gone || value === ""}
      onChange={(e) => pick(e.target.value)}
      inputProps={{ "aria-label": label }}
      sx={{ maxWidth: 210 }}
    >
      {value === "" && (
        <MenuItem value="" disabled>
          {words.none}
        </MenuItem>
      )}
      {gone && (
        <MenuItem value={value} disabled>
          {words.gone}
        </MenuItem>
      )}
      {children}
    </Select>
  );
}
