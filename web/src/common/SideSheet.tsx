import CloseOutlined from "@mui/icons-material/CloseOutlined";
import { Box, IconButton, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { useParts } from "./store/store";

/** Pixels of the page. */
export const SHEET_WIDTH = 320;

/** What stands over the stage's right side, on demand. */
export function SideSheet({ title, children }: { title: string; children: ReactNode }) {
  const { set } = useParts("set");
  return (
    <Box
      component="aside"
      aria-label={title}
      sx={{
        position: "absolute",
        right: 0,
        // Below the views and Fit, which stay in reach.
        top: 48,
        bottom: 0,
        width: SHEET_WIDTH,
        bgcolor: "background.default",
        borderLeft: "1px solid",
        borderTop: "1px solid",
        borderTopLeftRadius: 10,
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
        zIndex: 6,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", px: 2, py: 1 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
          {title}
        </Typography>
        <IconButton
          aria-label={`Close ${title.toLowerCase()}`}
          onClick={() => set({ sheet: null })}
        >
          <CloseOutlined sx={{ fontSize: 18 }} />
        </IconButton>
      </Box>
      <Box sx={{ overflowY: "auto", px: 2, pb: 2, flex: 1 }}>{children}</Box>
    </Box>
  );
}
