import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { PlainButton } from "../common/PlainButton";
import { useInterface, type Ribbon } from "../common/store/store";

const ICONS = { what: "◆", where: "▲", when: "∿" };
const NAMES = { what: "What", where: "Where", when: "When" };

/** One of the three ribbons of a step or a look: unfolded, or a line. */
export function Side(props: {
  side: Ribbon;
  open: boolean;
  summary: string;
  picture?: ReactNode;
  children: ReactNode;
}) {
  const { side, open } = props;
  const set = useInterface((s) => s.set);
  return (
    <Box
      sx={{
        ml: "18px",
        mr: 1.5,
        mb: 0.5,
        pl: 1.25,
        borderLeft: "3px solid",
        borderColor: `roles.${side}`,
      }}
    >
      <PlainButton
        aria-expanded={open}
        onClick={() => set({ ribbon: side })}
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 0.75,
          width: "100%",
          height: 24,
          cursor: "pointer",
          color: `roles.${side}`,
          fontWeight: 650,
          fontSize: 13,
        }}
      >
        <span aria-hidden>{ICONS[side]}</span>
        {NAMES[side]}
        {!open && (
          <Typography
            variant="body2"
            color="textSecondary"
            noWrap
            component="span"
            sx={{ flex: 1 }}
          >
            {props.summary}
          </Typography>
        )}
        {!open && props.picture}
      </PlainButton>
      {open && props.children}
    </Box>
  );
}
