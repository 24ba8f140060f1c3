import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { Box, Typography } from "@mui/material";
import { Fragment } from "react";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useChange } from "./useStep";
import { AddLine } from "./AddLine";
import { LookRow } from "./LookRow";
import { PieceHeader } from "./PieceHeader";
import { PlaceRow } from "./PlaceRow";
import { StepRow } from "./StepRow";

/** The chosen piece's steps, from top to bottom, edited where they stand. */
export function Recipe({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const base = piece ? `/pieces/${piece.id}/recipe` : "";
  const change = useChange(state.id, base);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const motion = state.motion.find((m) => m.id === piece?.id);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!piece || !over || active.id === over.id) return;
    const ids = piece.recipe.map((s) => s.id);
    const from = ids.indexOf(String(active.id));
    const to = Math.max(1, ids.indexOf(String(over.id)));
    const rest = ids.filter((id) => id !== active.id);
    if (from < 1) return;
    change.edit("Move step", [
      { do: "move", path: `${base}/${active.id}`, after: rest[to - 1] ?? null },
    ]);
  };
  return (
    <Box
      component="section"
      aria-label="Recipe"
      sx={{
        borderRight: "1px solid",
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
        minHeight: 0,
        minWidth: 0,
      }}
    >
      <PieceHeader state={state} piece={piece} />
      <Box sx={{ overflowY: "auto", flex: 1, pb: 2 }} tabIndex={-1}>
        {!piece || !motion ? (
          <Typography color="textSecondary" sx={{ p: 3 }}>
            This study has no piece yet. Choose “add a piece” above, or drop a mesh file on the
            stage.
          </Typography>
        ) : (
          <>
            <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
              <SortableContext
                items={piece.recipe.map((s) => s.id)}
                strategy={verticalListSortingStrategy}
              >
                {piece.recipe.map((step, index) => {
                  const words = motion.steps.find((w) => w.id === step.id);
                  return words ? (
                    <Fragment key={step.id}>
                      <StepRow
                        state={state}
                        piece={piece}
                        step={step}
                        words={words}
                        number={index + 1}
                      />
                      <AddLine after={step.id} last={index === piece.recipe.length - 1} />
                    </Fragment>
                  ) : null;
                })}
              </SortableContext>
            </DndContext>
            <PlaceRow state={state} piece={piece} lanes={motion.place_lanes} />
            <LookRow state={state} piece={piece} />
          </>
        )}
      </Box>
    </Box>
  );
}
