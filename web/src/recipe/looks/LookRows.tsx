import { Box, Button } from "@mui/material";
import type { StudyState } from "../../api/client";
import { freshId, type Piece } from "../../api/document";
import { useInterface } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { lookRow } from "../../model/maskOwner";
import { LookRow } from "./LookRow";

/** What the server lets a piece have; more could not be blended for every pixel. */
const MOST_LOOKS = 6;

/** How the piece is drawn: the last rows of its recipe, each blended over those above it. */
export function LookRows({ state, piece }: { state: StudyState; piece: Piece }) {
  const set = useInterface((s) => s.set);
  const base = `/pieces/${piece.id}/looks`;
  const change = useChange(state.id, base);
  const looks = piece.looks ?? [];
  const motion = state.motion.find((m) => m.id === piece.id);
  const add = () => {
    const id = freshId(
      "look",
      looks.map((l) => l.id),
    );
    change.edit("Add a look", [
      {
        do: "insert",
        path: base,
        after: looks.at(-1)?.id ?? null,
        item: { id, look: "surface", values: { colour: "#e9c46a", roughness: 40 } } as never,
      },
    ]);
    set({ step: lookRow(id), ribbon: "where", layer: null });
  };
  return (
    <Box>
      {looks.map((look, number) => {
        const words = motion?.looks.find((w) => w.id === look.id);
        return (
          words && (
            <LookRow
              key={look.id}
              state={state}
              piece={piece}
              look={look}
              number={number}
              words={words}
            />
          )
        );
      })}
      {looks.length < MOST_LOOKS && (
        <Button onClick={add} sx={{ ml: "36px", mt: 0.25, color: "text.secondary" }}>
          + Add a look
        </Button>
      )}
    </Box>
  );
}
