import { Box, Dialog, DialogTitle, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { client, unwrap, type StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";

/** Every edit of the study, the newest first. */
export function HistoryDialog({ state }: { state: StudyState }) {
  const open = useInterface((s) => s.dialog === "history");
  const set = useInterface((s) => s.set);
  const history = useQuery({
    queryKey: ["history", state.id, state.revision],
    enabled: open,
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/history", {
          params: { path: { study_id: state.id } },
        }),
      ).edits,
  });
  const edits = [...(history.data ?? [])].reverse();
  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} maxWidth="xs" fullWidth>
      <DialogTitle sx={{ typography: "h2" }}>History</DialogTitle>
      <Box
        component="ol"
        sx={{ px: 3, pb: 3, m: 0, listStyle: "none", maxHeight: 440, overflowY: "auto" }}
      >
        {edits.map((e) => (
          <Box
            component="li"
            key={e.revision}
            sx={{ display: "flex", gap: 1.5, py: 0.5, opacity: e.undone ? 0.5 : 1 }}
          >
            <Typography sx={{ fontFamily: FIGURES, fontSize: 12, width: 34 }}>
              {e.revision}
            </Typography>
            <Typography
              variant="body2"
              sx={{ flex: 1, textDecoration: e.undone ? "line-through" : "none" }}
            >
              {e.kind === "edit" ? e.label : `${e.kind}: ${e.label}`}
            </Typography>
            <Typography variant="caption" color="textSecondary">
              {new Date(e.made).toLocaleTimeString()}
            </Typography>
          </Box>
        ))}
        {history.data?.length === 0 && (
          <Typography color="textSecondary">Nothing was changed yet.</Typography>
        )}
      </Box>
    </Dialog>
  );
}
