import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { useInterface } from "../common/store/store";
import { PlainButton } from "../common/PlainButton";

/** A row of the recipe that is not a step: the piece's place, and its look. */
export function FoldRow(props: {
  id: string;
  title: string;
  summary: string;
  picture?: ReactNode;
  children: ReactNode;
}) {
  const open = useInterface((s) => s.step === props.id);
  const set = useInterface((s) => s.set);
  return (
    <Box
      sx={{
        borderBottom: "1px solid",
        borderColor: "divider",
        bgcolor: open ? "roles.card" : "background.default",
        borderLeft: "3px solid",
        borderLeftColor: open ? "text.primary" : "transparent",
      }}
    >
      <PlainButton
        aria-expanded={open}
        onClick={() => set({ step: open ? null : props.id })}
        sx={{
          boxSizing: "border-box",
          display: "flex",
          width: "100%",
          alignItems: "center",
          gap: 1,
          height: 34,
          pl: "41px",
          pr: 2,
          cursor: "pointer",
        }}
      >
        <Typography variant="body2" noWrap component="span" sx={{ flex: 1, fontSize: 13.5 }}>
          <b>{props.title}</b> {props.summary}
        </Typography>
        {props.picture}
      </PlainButton>
      {open && <Box sx={{ pl: "41px", pr: 2, pb: 1.5 }}>{props.children}</Box>}
    </Box>
  );
}
