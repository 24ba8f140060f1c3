import { ListItemText, Menu, MenuItem, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useParts } from "../state/store";
import { copied, copy } from "./clipboard";
import { usePasteStep } from "./usePasteStep";
import { useChange } from "./useStep";

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  piece: Piece;
  step: Step;
  form: boolean;
}

/** What can be done with a step, on right click and behind its button. */
export function StepMenu({ at, close, state, piece, step, form }: Props) {
  const { solo, set } = useParts("solo", "set");
  const base = `/pieces/${piece.id}/recipe`;
  const change = useChange(state.id, `${base}/${step.id}`);
  const ids = piece.recipe.map((s) => s.id);
  const place = ids.indexOf(step.id);
  const insert = usePasteStep(state, piece);
  const waiting = at ? copied() : null;
  const act = (work: () => void) => () => {
    work();
    close();
  };
  const actions: { label: string; keys?: string; off?: boolean; run: () => void }[] = [
    ...(form ? [{ label: "Exchange the form…", run: () => set({ dialog: "exchange" }) }] : []),
    {
      label: step.on === false ? "Use" : "Do not use",
      keys: "u",
      off: form,
      run: () => change.store("on", step.on === false, "Use or not use step"),
    },
    {
      label: solo === step.id ? "All steps again" : "Only this step",
      keys: "o",
      off: form,
      run: () => set({ solo: solo === step.id ? null : step.id }),
    },
    {
      label: "Duplicate",
      off: form,
      run: () => insert(step, step.id, "Duplicate step"),
    },
    {
      label: "Copy",
      keys: "Ctrl + C",
      off: form,
      run: () => copy({ kind: "step", item: step }),
    },
    {
      label: "Paste below",
      keys: "Ctrl + V",
      off: waiting?.kind !== "step",
      run: () => waiting?.kind === "step" && insert(waiting.item, step.id, "Paste step"),
    },
    {
      label: "Move up",
      off: form || place < 2,
      run: () =>
        change.edit("Move step", [
          { do: "move", path: `${base}/${step.id}`, after: ids[place - 2] },
        ]),
    },
    {
      label: "Move down",
      off: form || place === ids.length - 1,
      run: () =>
        change.edit("Move step", [
          { do: "move", path: `${base}/${step.id}`, after: ids[place + 1] },
        ]),
    },
    {
      label: "Reset its values",
      run: () =>
        change.store(
          "values",
          form && step.values?.mesh ? { mesh: step.values.mesh } : {},
          "Reset step",
        ),
    },
    {
      label: "Remove",
      keys: "Delete",
      off: form,
      run: () => {
        change.edit("Remove step", [{ do: "remove", path: `${base}/${step.id}` }]);
        set({ step: null });
      },
    },
  ];
  return (
    <Menu
      open={at !== null}
      onClose={close}
      anchorReference="anchorPosition"
      anchorPosition={at ? { left: at.x, top: at.y } : undefined}
    >
      {actions.map((a) => (
        <MenuItem key={a.label} disabled={a.off} onClick={act(a.run)}>
          <ListItemText sx={{ minWidth: 150 }}>{a.label}</ListItemText>
          <Typography variant="caption" color="textSecondary">
            {a.keys}
          </Typography>
        </MenuItem>
      ))}
    </Menu>
  );
}
