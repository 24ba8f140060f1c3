import { Box, Tooltip } from "@mui/material";
import { PlainButton } from "../../common/PlainButton";

/** Has a value of a look go by value, or be one everywhere. */
export function ByButton(props: { label: string; on: boolean; turn: (on: boolean) => void }) {
  const { label, on } = props;
  const title = on ? "It goes by value: make it one everywhere" : "Let it go by value";
  return (
    <Tooltip title={title}>
      <PlainButton
        aria-label={`${title}: ${label}`}
        aria-pressed={on}
        onClick={() => props.turn(!on)}
        sx={{
          width: 20,
          height: 20,
          flex: "none",
          display: "grid",
          placeItems: "center",
          cursor: "pointer",
          opacity: on ? 1 : 0.55,
          "&:hover, &:focus-visible": { opacity: 1 },
        }}
      >
        <Box
          aria-hidden
          sx={{
            width: 15,
            height: 8,
            borderRadius: "2px",
            border: "1px solid",
            borderColor: on ? "roles.what" : "text.secondary",
            background: (theme) =>
              `linear-gradient(90deg, transparent, ${
                on ? theme.palette.roles.what : theme.palette.text.secondary
              })`,
          }}
        />
      </PlainButton>
    </Tooltip>
  );
}
