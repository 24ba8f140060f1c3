import { type StudyState, client, unwrap } from "../api/client";
import type { Group, Piece, Step } from "../api/document";
import { ActionMenu, type Action } from "../common/ActionMenu";
import { useParts } from "../common/store/store";
import { useChange } from "../common/useStep";

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  piece: Piece;
  group: Group;
  steps: Step[];
}

/** What can be done with a group of steps. */
export function GroupMenu({ at, close, state, piece, group, steps }: Props) {
  const { set, say } = useParts("set", "say");
  const base = `/pieces/${piece.id}`;
  const change = useChange(state.id, base);
  // Parts of it may stand elsewhere, parted by another window; they keep it.
  const forgotten = piece.recipe.some((s) => s.group === group.id && !steps.includes(s))
    ? []
    : [{ do: "remove" as const, path: `${base}/groups/${group.id}` }];
  const keep = async () => {
    try {
      const kept = unwrap(
        await client.POST("/api/presets", {
          body: { study: state.id, piece: piece.id, group: group.id },
        }),
      );
      say({
        text: `“${kept.name}” is kept; it stands first in the sheet of steps, in every study.`,
        tone: "info",
      });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  const actions: Action[] = [
    { label: "Rename", later: true, run: () => set({ naming: group.id }) },
    {
      label: "Values at its front…",
      later: true,
      run: () => set({ dialog: "front", fronting: group.id }),
    },
    { label: "Keep as a preset", run: () => void keep() },
    {
      label: "Take the group apart",
      run: () =>
        change.edit("Take group apart", [
          ...steps.map((s) => ({
            do: "set" as const,
            path: `${base}/recipe/${s.id}/group`,
            value: null as never,
          })),
          ...forgotten,
        ]),
    },
    {
      label: "Remove it and its steps",
      run: () => {
        change.edit("Remove group", [
          ...steps.map((s) => ({ do: "remove" as const, path: `${base}/recipe/${s.id}` })),
          ...forgotten,
        ]);
        set({ step: null });
      },
    },
  ];
  return <ActionMenu at={at} close={close} actions={actions} />;
}
