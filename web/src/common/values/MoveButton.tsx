import { Tooltip } from "@mui/material";
import type { MouseEvent } from "react";
import { PlainButton } from "../PlainButton";

/** Whether a value moves; makes it move, or opens its signal. */
export function MoveButton(props: {
  moving: boolean;
  label: string;
  onClick: (event: MouseEvent<HTMLElement>) => void;
}) {
  const title = props.moving ? "It moves: open its signal" : "Make it move";
  return (
    <Tooltip title={title}>
      <PlainButton
        aria-label={`${title}: ${props.label}`}
        aria-pressed={props.moving}
        onClick={props.onClick}
        sx={{
          width: 18,
          textAlign: "center",
          cursor: "pointer",
          fontSize: 15,
          lineHeight: 1,
          color: props.moving ? "roles.when" : "text.secondary",
          opacity: props.moving ? 1 : 0.55,
          fontWeight: props.moving ? 700 : 400,
          "&:hover, &:focus-visible": { opacity: 1, color: "roles.when" },
        }}
      >
        ∿
      </PlainButton>
    </Tooltip>
  );
}
