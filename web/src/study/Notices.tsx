import { Alert, Button, Snackbar } from "@mui/material";
import { useInterface } from "../state/store";

/** Short messages at the foot of the window, with what can be done about them. */
export function Notices() {
  const notice = useInterface((s) => s.notice);
  const set = useInterface((s) => s.set);
  const close = () => set({ notice: null });
  return (
    <Snackbar
      open={notice !== null}
      autoHideDuration={notice?.tone === "error" ? 15_000 : 6_000}
      onClose={(_, reason) => reason !== "clickaway" && close()}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
    >
      <Alert
        severity={notice?.tone ?? "info"}
        variant="filled"
        onClose={close}
        sx={{ maxWidth: 560, alignItems: "center" }}
        action={
          notice?.action ? (
            <Button
              color="inherit"
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
