import { Box, MenuItem, Select, TextField, Typography } from "@mui/material";
import type { ReactNode } from "react";

const NAMES = 110;

export function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: `${NAMES}px 1fr`,
        alignItems: "center",
        minHeight: 36,
      }}
    >
      <Typography variant="body2">{label}</Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>{children}</Box>
    </Box>
  );
}

/** What a choice means, below it. */
export function Help({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ ml: `${NAMES}px`, mb: 1 }}>
      {children}
    </Typography>
  );
}

interface ChooseProps<T extends string | number> {
  label: string;
  value: T;
  options: [T, string][];
  pick: (value: T) => void;
}

export function Choose<T extends string | number>({ label, value, options, pick }: ChooseProps<T>) {
  return (
    <Select
      value={value}
      onChange={(e) => pick(e.target.value as T)}
      inputProps={{ "aria-label": label }}
    >
      {options.map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </Select>
  );
}

/** A number as it is written. */
export function Figure(props: {
  label: string;
  value: string;
  put: (text: string) => void;
  placeholder?: string;
}) {
  return (
    <TextField
      variant="standard"
      value={props.value}
      onChange={(e) => props.put(e.target.value)}
      placeholder={props.placeholder}
      slotProps={{ htmlInput: { "aria-label": props.label, inputMode: "numeric" } }}
      sx={{ width: 60 }}
    />
  );
}
