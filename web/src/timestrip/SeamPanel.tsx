import { Box, Button, Popover, Switch, Typography } from "@mui/material";
import { useState } from "react";
import { client, unwrap, type Operation, type Schemas, type StudyState } from "../api/client";
import { loopOf, documentOf } from "../api/document";
import { useEdit, useTakeBack } from "../common/edits";
import { useParts } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { useChange } from "../common/useStep";
import { share } from "./seamWords";
import { titleOf } from "./titleOf";

type Fit = Schemas["FitState"];

interface Props {
  state: StudyState;
  seams: Schemas["SeamState"][];
  anchor: HTMLElement | null;
  close: () => void;
}

/** How each piece closes, where its largest jump is, and the way to make the loop close. */
export function SeamPanel({ state, seams, anchor, close }: Props) {
  const { oneWay } = loopOf(documentOf(state));
  const change = useChange(state.id, "/loop");
  return (
    <Popover
      open={anchor !== null}
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "top", horizontal: "right" }}
      transformOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{ paper: { sx: { width: 440, p: 2 } } }}
    >
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        The seam
      </Typography>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Switch
          size="small"
          checked={oneWay}
          onChange={(e) => change.store("one_way", e.target.checked, "Play one way or in a loop")}
          slotProps={{ input: { "aria-label": "It plays one way" } }}
        />
        <Typography variant="body2">It plays one way, and need not come back</Typography>
      </Box>
      {!oneWay && <Jumps state={state} seams={seams} />}
    </Popover>
  );
}

/** How far apart the ends are, and what brings them together. */
function Jumps({ state, seams }: Pick<Props, "state" | "seams">) {
  const { seamShown, set } = useParts("seamShown", "set");
  const { pieces } = documentOf(state);
  const nameOf = (id: string) => pieces.find((p) => p.id === id)?.name ?? id;
  return (
    <>
      <Box component="table" sx={{ width: "100%", borderSpacing: 0, "& td, & th": { py: 0.25 } }}>
        <thead>
          <tr>
            {["Piece", "Apart", "of its size", "Speed differs"].map((t, k) => (
              <Typography
                key={t}
                component="th"
                variant="caption"
                color="textSecondary"
                sx={{ textAlign: k ? "right" : "left", fontWeight: 400 }}
              >
                {t}
              </Typography>
            ))}
          </tr>
        </thead>
        <tbody>
          {seams.map((seam) => (
            <tr key={seam.piece}>
              <Typography component="td" variant="body2" noWrap sx={{ maxWidth: 150 }}>
                {nameOf(seam.piece)}
              </Typography>
              {[
                seam.position_m == null ? "?" : `${seam.position_m.toFixed(4)} m`,
                share(seam.position_relative),
                share(seam.velocity_relative),
              ].map((text, k) => (
                <Box
                  key={k}
                  component="td"
                  sx={{ textAlign: "right", fontFamily: FIGURES, fontSize: 12.5 }}
                >
                  {text}
                </Box>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
      {seams
        .filter((s) => s.note)
        .map((s) => (
          <Typography key={s.piece} variant="caption" color="textSecondary" component="p">
            {nameOf(s.piece)}: {s.note}.
          </Typography>
        ))}
      <Box sx={{ display: "flex", alignItems: "center", mt: 1 }}>
        <Switch
          size="small"
          checked={seamShown}
          onChange={(e) => set({ seamShown: e.target.checked })}
          slotProps={{ input: { "aria-label": "Show the largest jump on the stage" } }}
        />
        <Typography variant="body2">Show the largest jump on the stage</Typography>
      </Box>
      <FitToLoop
        state={state}
        closed={seams.length > 0 && seams.every((seam) => seam.state === "closed")}
      />
    </>
  );
}

/** One action that makes every value close, and tells what it changed. */
function FitToLoop({ state, closed }: { state: StudyState; closed: boolean }) {
  const [done, setDone] = useState<Fit | null>(null);
  const [busy, setBusy] = useState(false);
  const edit = useEdit(state.id);
  const takeBack = useTakeBack(state.id);
  const { say } = useParts("say");
  const fit = async () => {
    setBusy(true);
    try {
      const found = unwrap(
        await client.GET("/api/studies/{study_id}/fit", {
          params: { path: { study_id: state.id } },
        }),
      );
      if (found.operations.length)
        await edit.mutateAsync({
          label: "Fit to loop",
          operations: found.operations as unknown as Operation[],
        });
      setDone(found);
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box sx={{ mt: 1.5, pt: 1.5, borderTop: "1px solid", borderColor: "divider" }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Button variant="contained" disabled={busy} onClick={() => void fit()}>
          Fit to loop
        </Button>
        {done && done.changes.length > 0 && (
          <Button
            onClick={() => {
              takeBack.mutate("undo");
              setDone(null);
            }}
          >
            Undo
          </Button>
        )}
        {!done && (
          <Typography variant="caption" color="textSecondary">
            Moves periods, rates and keys to the nearest setting that closes.
          </Typography>
        )}
      </Box>
      {done && (
        <Box role="status" sx={{ mt: 1, maxHeight: 220, overflowY: "auto" }}>
          {done.changes.length === 0 && done.remains.length === 0 && (
            <Typography variant="body2">Every signal closes already.</Typography>
          )}
          {done.changes.map((c) => (
            <Typography key={c.address} variant="body2" sx={{ mb: 0.5 }}>
              <b>{titleOf(state, c)}</b>: {c.before} → {c.after}
            </Typography>
          ))}
          {/* Measured, the seam is closed: what jumps there is out of the picture. */}
          {closed && done.remains.length > 0 && (
            <Typography variant="body2" sx={{ mb: 0.5 }}>
              The loop is closed all the same: of these jumps nothing is seen at the seam.
            </Typography>
          )}
          {done.remains.map((r) => (
            <Typography
              key={r.address}
              variant="body2"
              sx={{ mb: 0.5, color: closed ? "text.secondary" : "roles.amber" }}
            >
              <b>{titleOf(state, r)}</b> {closed ? "jumps" : "does not close"}: {r.reason}.
            </Typography>
          ))}
        </Box>
      )}
    </Box>
  );
}
