import { Box, Tooltip } from "@mui/material";

interface Props {
  on: boolean;
  label: string;
  /** Why it cannot be switched, where that is so. */
  fixed?: string;
  turn: (on: boolean) => void;
}

/** The switch at the end of a line: whether its steps are used. */
export function UseDot({ on, label, fixed, turn }: Props) {
  return (
    <Tooltip title={fixed ?? (on ? "Do not use" : "Use")}>
      <Box
        component="button"
        type="button"
        role="switch"
        aria-checked={on}
        aria-label={label}
        disabled={fixed !== undefined}
        onClick={() => turn(!on)}
        sx={{
          all: "unset",
          width: 22,
          textAlign: "center",
          cursor: fixed ? "default" : "pointer",
          fontSize: 13,
          opacity: fixed ? 0.35 : 1,
          "&:focus-visible": { outline: "2px solid", outlineColor: "roles.what" },
        }}
      >
        {on ? "●" : "○"}
      </Box>
    </Tooltip>
  );
}
