import { Box, Dialog, DialogTitle, Typography } from "@mui/material";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { KEYS, written } from "./keys";

/** All keys, as they are bound. */
export function KeyList() {
  const open = useInterface((s) => s.dialog === "keys");
  const set = useInterface((s) => s.set);
  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} maxWidth="md">
      <DialogTitle sx={{ typography: "h2" }}>Keys</DialogTitle>
      <Box
        component="dl"
        sx={{ px: 3, pb: 3, m: 0, columns: 2, columnGap: 5, "& > div": { breakInside: "avoid" } }}
      >
        {Object.values(KEYS).map((key) => (
          <Box key={key.label} sx={{ display: "flex", gap: 2, py: 0.4, alignItems: "baseline" }}>
            <Box component="dt" sx={{ fontFamily: FIGURES, fontSize: 12, width: 140 }}>
              {written(key.keys)}
            </Box>
            <Typography component="dd" variant="body2" sx={{ m: 0 }}>
              {key.label}
            </Typography>
          </Box>
        ))}
      </Box>
    </Dialog>
  );
}
