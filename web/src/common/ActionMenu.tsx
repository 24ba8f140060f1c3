import { ListItemText, Menu, MenuItem, Typography } from "@mui/material";
import { useRef } from "react";

export interface Action {
  label: string;
  keys?: string;
  off?: boolean;
  /** Only when the menu is gone: it gives the focus back, which what opens takes after that. */
  later?: boolean;
  run: () => void;
}

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  actions: Action[];
}

/** Actions at the place of a right click. */
export function ActionMenu({ at, close, actions }: Props) {
  const waiting = useRef<(() => void) | null>(null);
  const act = (action: Action) => () => {
    if (action.later) waiting.current = action.run;
    else action.run();
    close();
  };
  return (
    <Menu
      open={at !== null}
      onClose={close}
      slotProps={{
        transition: {
          onExited: () => {
            waiting.current?.();
            waiting.current = null;
          },
        },
      }}
      anchorReference="anchorPosition"
      anchorPosition={at ? { left: at.x, top: at.y } : undefined}
    >
      {actions.map((a) => (
        <MenuItem key={a.label} disabled={a.off} onClick={act(a)}>
          <ListItemText sx={{ minWidth: 150 }}>{a.label}</ListItemText>
          <Typography variant="caption" color="textSecondary">
            {a.keys}
          </Typography>
        </MenuItem>
      ))}
    </Menu>
  );
}
