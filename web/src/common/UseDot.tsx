import { Tooltip } from "@mui/material";
import { PlainButton } from "./PlainButton";

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
      <PlainButton
        role="switch"
        aria-checked={on}
        aria-label={label}
        disabled={fixed !== undefined}
        onClick={() => turn(!on)}
        sx={{
          width: 22,
          textAlign: "center",
          cursor: fixed ? "default" : "pointer",
          fontSize: 13,
          opacity: fixed ? 0.35 : 1,
          "&.Mui-disabled": { pointerEvents: "auto" },
        }}
      >
        {on ? "●" : "○"}
      </PlainButton>
    </Tooltip>
  );
}
