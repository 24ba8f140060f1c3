import { Box } from "@mui/material";
import type { ReactNode } from "react";

/** Words that stand beside an icon where the window is wide; read out in either case. */
export function WideOnly({ children }: { children: ReactNode }) {
  return (
    <Box
      component="span"
      sx={{
        whiteSpace: "nowrap",
        "@media (max-width: 1179px)": {
          position: "absolute",
          width: "1px",
          height: "1px",
          overflow: "hidden",
          clipPath: "inset(50%)",
        },
      }}
    >
      {children}
    </Box>
  );
}

/** On a button whose words are hidden: its icon in the middle. */
export const ICON_WHERE_NARROW = {
  whiteSpace: "nowrap",
  flex: "none",
  "@media (max-width: 1179px)": {
    minWidth: 34,
    px: 0.75,
    "& .MuiButton-startIcon": { m: 0 },
  },
} as const;
