import type { StudyState } from "../api/client";
import { loopOf, type Piece, type Step, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { ActionMenu, type Action } from "../common/ActionMenu";
import { useInterface, useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { useSwitching } from "../common/useSwitching";
import { copied, copy } from "../model/clipboard";
import { between, grouping, removing } from "../model/grouping";
import { keyedValues } from "./keyedValues";
import { usePasteStep } from "./usePasteStep";

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
  const { solo, step: chosen, upTo, set } = useParts("solo", "step", "upTo", "set");
  const base = `/pieces/${piece.id}/recipe`;
  const change = useChange(state.id, `${base}/${step.id}`);
  const ids = piece.recipe.map((s) => s.id);
  const place = ids.indexOf(step.id);
  const insert = usePasteStep(state, piece);
  const waiting = at ? copied() : null;
  const together = between(piece, chosen, upTo);
  const several = together.length > 1 && together.includes(step.id) ? together : [step.id];
  const { frame } = useInterface.getState();
  const catalogue = useCatalogue().data;
  const entry = [...(catalogue?.forms ?? []), ...(catalogue?.steps ?? [])].find(
    (d) => d.key === step.step,
  );
  const { frames } = loopOf(documentOf(state));
  const keyed =
    at && entry ? keyedValues(state, piece, step, entry, Math.round(frame), frames) : [];
  const switching = useSwitching(state, `${base}/${step.id}/on`, "Step in use", form);
  /** Below the group, so that what stays in it stays together. */
  const takeOut = () => {
    const members = piece.recipe.filter((s) => s.group === step.group && s.id !== step.id);
    change.edit("Take out of group", [
      { do: "set", path: `${base}/${step.id}/group`, value: null as never },
      ...(members.length
        ? [
            {
              do: "move" as const,
              path: `${base}/${step.id}`,
              after: members[members.length - 1].id,
            },
          ]
        : []),
    ]);
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
      label: several.length > 1 ? `Group these ${several.length} steps` : "Put into a new group",
      keys: "g",
      off: form,
      later: true,
      run: () => {
        const { operations, group } = grouping(piece, several);
        change.edit("Group steps", operations);
        set({ step: null, naming: group });
      },
    },
    ...(step.group ? [{ label: "Take out of its group", run: () => takeOut() }] : []),
    {
      label: step.note ? "Change its note" : "Write a note",
      later: true,
      run: () => set({ step: step.id, noting: step.id }),
    },
    {
      label: `Key its values at frame ${Math.round(frame)}`,
      off: keyed.length === 0,
      run: () => change.edit("Key the values of a step", keyed),
    },
    ...switching,
    {
      label: "Reset its values",
      run: () =>
        change.store(
          "values",
          // What shows a file keeps its file.
          pick(step.values ?? {}, ["mesh", "drawing", "picture"]),
          "Reset step",
        ),
    },
    {
      label: "Remove",
      keys: "Delete",
      off: form,
      run: () => {
        change.edit("Remove step", removing(piece, step.id));
        set({ step: null });
      },
    },
  ];
  return <ActionMenu at={at} close={close} actions={actions} />;
}
