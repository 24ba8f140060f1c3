import { Box, Button, Dialog, DialogTitle, Typography } from "@mui/material";
import { useEdit, useTakeBack } from "../common/edits";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";

function Version({ title, value }: { title: string; value: unknown }) {
  return (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Typography variant="h3" component="h3">
        {title}
      </Typography>
      <Box
        component="pre"
        sx={{
          fontFamily: FIGURES,
          fontSize: 12,
          bgcolor: "roles.quiet",
          p: 1.5,
          borderRadius: 2,
          overflow: "auto",
          maxHeight: 220,
          whiteSpace: "pre-wrap",
        }}
      >
        {value === null || value === undefined ? "removed" : JSON.stringify(value, null, 1)}
      </Box>
    </Box>
  );
}

/** Two windows changed the same thing: both versions, and the choice. */
export function ClashDialog({ study }: { study: string }) {
  const clash = useInterface((s) => s.clash);
  const setClash = useInterface((s) => s.setClash);
  const edit = useEdit(study);
  const takeBack = useTakeBack(study);
  const way = clash?.takeBack;
  const leave = () => {
    if (way) takeBack.mutate({ way, clashing: "skip" });
    setClash(null);
  };
  const go = () => {
    if (clash?.edit) edit.mutate(clash.edit);
    if (way) takeBack.mutate({ way, clashing: "over" });
    setClash(null);
  };
  return (
    <Dialog open={clash !== null} onClose={() => setClash(null)} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ typography: "h2" }}>Two windows changed the same thing</DialogTitle>
      <Box sx={{ px: 3, pb: 3 }}>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
          {clash?.error.path}
        </Typography>
        <Box sx={{ display: "flex", gap: 2 }}>
          <Version
            title={way ? `What ${way} would bring back` : "Yours, not stored"}
            value={clash?.error.mine}
          />
          <Version title="As it is stored" value={clash?.error.theirs} />
        </Box>
        <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1, mt: 2 }}>
          <Button variant="outlined" onClick={leave}>
            {way ? "Skip this change" : "Keep what is stored"}
          </Button>
          <Button variant="contained" onClick={go}>
            {way ? "Bring it back all the same" : "Store yours"}
          </Button>
        </Box>
      </Box>
    </Dialog>
  );
}
