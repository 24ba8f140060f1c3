import type { StudyState } from "../api/client";
import { type Piece, documentOf } from "../api/document";
import { ActionMenu, type Action } from "../common/ActionMenu";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { copy, fresh } from "../model/clipboard";
import { freeName } from "../model/names";
import { useAttach } from "../common/useAttach";

/** Of more pieces the menu would fill the window. */
const MOST_SWAPS = 6;

/** What can be done with a piece. */
export function usePieceActions(state: StudyState, piece: Piece | undefined): Action[] {
  const set = useInterface((s) => s.set);
  const change = useChange(state.id, "/pieces");
  const { remove, swap } = useAttach(state.id);
  if (!piece) return [];
  const { pieces } = documentOf(state);
  const duplicate = () => {
    const ids = pieces.map((p) => p.id);
    const names = pieces.map((p) => p.name);
    const item = { ...fresh(piece, "piece", ids), name: freeName(piece.name, names) };
    change.edit(`Duplicate ${piece.name}`, [
      { do: "insert", path: "/pieces", after: piece.id, item: item as never },
    ]);
    set({ piece: item.id, step: null, solo: null, layer: null });
  };
  return [
    { label: "Rename", later: true, run: () => set({ naming: piece.id, marker: null }) },
    { label: "Duplicate", run: duplicate },
    { label: "Exchange the form…", run: () => set({ dialog: "exchange" }) },
    {
      label: piece.visible === false ? "Show" : "Hide",
      run: () => change.store(`${piece.id}/visible`, piece.visible === false, "Show or hide piece"),
    },
    {
      label: piece.holdout ? "Draw it again" : "Hold out: only hide what is behind it",
      run: () => change.store(`${piece.id}/holdout`, !piece.holdout, "Hold out piece"),
    },
    // One leaves along a front while the other, brought to the same middle and size, comes.
    ...pieces
      .filter((other) => other.id !== piece.id)
      .slice(0, MOST_SWAPS)
      .map((other) => ({
        label: `Swap with ${other.name} along a front`,
        run: () => void swap(piece.id, other.id, `Swap ${piece.name} with ${other.name}`),
      })),
    { label: "Copy", run: () => copy({ kind: "piece", item: piece }) },
    {
      label: "Remove",
      run: () => {
        void remove(`/pieces/${piece.id}`, "Remove piece");
        set({ piece: null, step: null });
      },
    },
  ];
}

export function PieceMenu(props: {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  piece: Piece;
}) {
  const actions = usePieceActions(props.state, props.piece);
  return <ActionMenu at={props.at} close={props.close} actions={actions} />;
}
