import { Box, Button, Divider, Menu, MenuItem } from "@mui/material";
import { useState, type ReactNode } from "react";

/** A button over the stage. */
export const chip = {
  color: "#ede7f5",
  // Nearly opaque: a pale piece may stand behind it.
  bgcolor: "#3a344cd9",
  border: "1px solid #ffffff2b",
  borderRadius: 2,
  py: 0.25,
  "&:hover": { bgcolor: "#4d465fe6" },
  "&[aria-pressed=true]": { bgcolor: "#6f6785e6", borderColor: "#ffffff99" },
};

/** A button that shows what is chosen, and a menu of the rest. */
export function Choice<T extends string>(props: {
  label: string;
  value: T;
  options: Record<T, string>;
  pick: (value: T) => void;
  /** What else the menu does, below its options. */
  actions?: { label: string; title: string; run: () => void }[];
}) {
  const { actions = [] } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        sx={chip}
        onClick={(e) => setAnchor(e.currentTarget)}
        aria-haspopup="menu"
        aria-label={`${props.label}: ${props.options[props.value]}`}
      >
        {props.options[props.value]} ▾
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {(Object.keys(props.options) as T[]).map((key) => (
          <MenuItem
            key={key}
            selected={key === props.value}
            onClick={() => {
              props.pick(key);
              setAnchor(null);
            }}
          >
            {props.options[key]}
          </MenuItem>
        ))}
        {actions.length > 0 && <Divider />}
        {actions.map((action) => (
          <MenuItem
            key={action.label}
            title={action.title}
            onClick={() => {
              action.run();
              setAnchor(null);
            }}
          >
            {action.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Buttons in a corner of the stage. */
export function Corner({ at, children }: { at: object; children: ReactNode }) {
  return (
    <Box
      sx={{
        position: "absolute",
        display: "flex",
        gap: 1,
        alignItems: "center",
        // In a narrow window one above the other, so that the two sides do not meet.
        "@media (max-width: 1039px)": {
          flexDirection: "top" in at ? "column" : "row",
          alignItems: !("right" in at) ? "flex-start" : "flex-end",
        },
        ...at,
      }}
    >
      {children}
    </Box>
  );
}
