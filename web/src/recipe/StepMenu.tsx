import { ListItemText, Menu, MenuItem, Typography } from "@mui/material";
import { useRef } from "react";
import type { StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useParts } from "../state/store";
import { copied, copy } from "./clipboard";
import { usePasteStep } from "./usePasteStep";
import { useChange } from "./useStep";

interface Action {
  label: string;
  keys?: string;
  off?: boolean;
  /** Only when the menu is gone. */
  later?: boolean;
  run: () => void;
}

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  piece: Piece;
  step: Step;
  form: boolean;
}

function pick<T>(values: Record<string, T>, names: string[]): Record<string, T> {
  return Object.fromEntries(Object.entries(values).filter(([name]) => names.includes(name)));
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
  const waitingFor = useRef<(() => void) | null>(null);
  const act = (action: Action) => () => {
    if (action.later) waitingFor.current = action.run;
    else action.run();
    close();
  };
  const actions: Action[] = [
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
      label: step.note ? "Change its note" : "Write a note",
      // The menu gives the focus back when it closes, which the field takes after that.
      later: true,
      run: () => set({ step: step.id, noting: step.id }),
    },
    {
      label: "Reset its values",
      run: () =>
        change.store(
          "values",
          // A form of a file keeps its file.
          pick(step.values ?? {}, ["mesh", "drawing"]),
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
      slotProps={{
        transition: {
          onExited: () => {
            waitingFor.current?.();
            waitingFor.current = null;
          },
        },
      }}
      anchorReference="anchorPosition"
      anchorPosition={at ? { left: at.x, top: at.y } : undefined}
    >
      {actions.map((a) => (
        <MenuItem key={a.label} disabled={a.off} onClick={act(a)}>
          <ListItemText sx={{ minWidth: 150 }}>{a.label}</ListItemText>
          <Typography variant="caption" color="textSecondary">
            {a.keys}
          </Typography>
        </MenuItem>
      ))}
    </Menu>
  );
}
