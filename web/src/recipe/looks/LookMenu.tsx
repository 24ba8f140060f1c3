import type { StudyState } from "../../api/client";
import { freshId, type Look, type Piece } from "../../api/document";
import { ActionMenu, type Action } from "../../common/ActionMenu";
import { useInterface } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { useSwitching } from "../../common/useSwitching";
import { copied, copy } from "../../model/clipboard";
import { lookRow } from "../../model/maskOwner";

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  piece: Piece;
  look: Look;
}

/** What can be done with a look, on right click. */
export function LookMenu({ at, close, state, piece, look }: Props) {
  const set = useInterface((s) => s.set);
  const base = `/pieces/${piece.id}/looks`;
  const change = useChange(state.id, base);
  const looks = piece.looks ?? [];
  const ids = looks.map((l) => l.id);
  const place = ids.indexOf(look.id);
  const waiting = at ? copied() : null;
  const switching = useSwitching(state, base, "Looks");
  const insert = (item: Look, label: string) => {
    const id = freshId("look", ids);
    change.edit(label, [
      { do: "insert", path: base, after: look.id, item: { ...item, id } as never },
    ]);
    set({ step: lookRow(id) });
  };
  const move = (after: string | null) =>
    change.edit("Move look", [{ do: "move", path: `${base}/${look.id}`, after }]);
  const actions: Action[] = [
    { label: "Duplicate", run: () => insert(look, "Duplicate look") },
    { label: "Copy", run: () => copy({ kind: "look", item: look }) },
    {
      label: "Paste below",
      off: waiting?.kind !== "look",
      run: () => waiting?.kind === "look" && insert(waiting.item, "Paste look"),
    },
    {
      label: "Paste instead of it",
      off: waiting?.kind !== "look",
      run: () =>
        waiting?.kind === "look" &&
        change.edit("Paste look", [
          {
            do: "set",
            path: `${base}/${look.id}`,
            value: { ...waiting.item, id: look.id } as never,
          },
        ]),
    },
    { label: "Move up", off: place === 0, run: () => move(ids[place - 2] ?? null) },
    { label: "Move down", off: place === ids.length - 1, run: () => move(ids[place + 1]) },
    ...switching,
    {
      label: "Reset it",
      run: () =>
        change.edit("Reset look", [
          {
            do: "set",
            path: `${base}/${look.id}`,
            value: { id: look.id, look: look.look, where: look.where ?? {} } as never,
          },
        ]),
    },
    {
      label: "Remove",
      off: looks.length === 1,
      run: () => {
        change.edit("Remove look", [{ do: "remove", path: `${base}/${look.id}` }]);
        set({ step: null });
      },
    },
  ];
  return <ActionMenu at={at} close={close} actions={actions} />;
}
