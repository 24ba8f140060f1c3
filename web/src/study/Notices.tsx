import { Alert, Button, Snackbar } from "@mui/material";
import { useMatch } from "react-router";
import { useInterface } from "../common/store/store";
import { useStripHeight } from "./strip";

/** Short messages at the foot of the window, with what can be done about them. */
export function Notices() {
  const notice = useInterface((s) => s.notice);
  const set = useInterface((s) => s.set);
  const { recipe } = useInterface((s) => s.sizes);
  const strip = useStripHeight();
  const inStudy = useMatch("/study/:id") !== null;
  const close = () => set({ notice: null });
  return (
    <Snackbar
      open={notice !== null}
      autoHideDuration={notice?.tone === "error" ? 15_000 : 6_000}
      onClose={(_, reason) => reason !== "clickaway" && close()}
      anchorOrigin={{ vertical: "bottom", horizontal: "center" }}
      // In a study over the stage's foot, where it hides no control.
      sx={inStudy ? { bottom: { xs: strip + 16, sm: strip + 16 }, ml: `${recipe / 2}px` } : {}}
    >
      <Alert
        severity={notice?.tone ?? "info"}
        variant="standard"
        onClose={close}
        sx={{
          maxWidth: 720,
          whiteSpace: "pre-line",
          alignItems: "center",
          bgcolor: "roles.card",
          color: "text.primary",
          border: "1px solid",
          borderColor: notice?.tone === "error" ? "error.main" : "divider",
          borderRadius: 3,
          boxShadow: "0 6px 24px #0006",
          "& .MuiAlert-icon": { color: notice?.tone === "error" ? "error.main" : "roles.when" },
        }}
        action={
          notice?.action ? (
            <Button
              variant="outlined"
              sx={{ whiteSpace: "nowrap" }}
              onClick={() => {
                notice.action?.run();
                close();
              }}
            >
              {notice.action.label}
            </Button>
          ) : undefined
        }
      >
        {notice?.text}
      </Alert>
    </Snackbar>
  );
}
