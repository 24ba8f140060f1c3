import { Box, Typography } from "@mui/material";
import { Fragment } from "react";
import type { StudyState } from "../api/client";
import { type Piece, type Step, documentOf } from "../api/document";
import { useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { dropped, foldKey, rowsOf } from "../model/rows";
import { AddLine } from "./AddLine";
import { GroupRow } from "./GroupRow";
import { LookRows } from "./looks/LookRows";
import { MarkerPanel } from "./MarkerPanel";
import { PieceHeader } from "./PieceHeader";
import { PlaceRow } from "./PlaceRow";
import { SortableRows } from "../common/SortableRows";
import { StepRow } from "./StepRow";

/** The chosen piece's steps, from top to bottom, edited where they stand. */
export function Recipe({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const base = piece ? `/pieces/${piece.id}/recipe` : "";
  const change = useChange(state.id, base);
  const {
    step: chosen,
    marker: marked,
    unfolded,
    set,
  } = useParts("step", "marker", "unfolded", "set");
  const marker = documentOf(state).markers?.find((m) => m.id === marked);
  const rows = piece ? rowsOf(piece, (g) => !unfolded[foldKey(state.id, piece.id, g)], chosen) : [];
  /** Where a step can be added below some. */
  const endOf = (steps: Step[]) => {
    const after = steps[steps.length - 1].id;
    return { after, last: after === piece?.recipe.at(-1)?.id };
  };
  const motion = state.motion.find((m) => m.id === piece?.id);
  const drop = (id: string, over: string) => {
    const operations = piece && dropped(piece, rows, id, over);
    if (operations) change.edit("Move step", operations);
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
      <PieceHeader state={state} piece={piece} marker={marker} />
      <Box sx={{ overflowY: "auto", flex: 1, pb: 2 }} tabIndex={-1}>
        {marker ? (
          <MarkerPanel key={marker.id} state={state} marker={marker} />
        ) : !piece || !motion ? (
          <Typography color="textSecondary" sx={{ p: 3 }}>
            This study has no piece yet. Choose “add a piece” above, or drop a mesh file on the
            stage.
          </Typography>
        ) : (
          <>
            <SortableRows
              ids={rows.map((r) => r.key)}
              lift={(lifted) => set({ lifted })}
              drop={drop}
            >
              {rows.map((row) => {
                if (row.kind === "group")
                  return (
                    <Fragment key={row.key}>
                      <GroupRow state={state} piece={piece} row={row} />
                      {row.folded && <AddLine {...endOf(row.steps)} />}
                    </Fragment>
                  );
                const { step, index } = row;
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
                    <AddLine {...endOf([step])} />
                  </Fragment>
                ) : null;
              })}
            </SortableRows>
            <PlaceRow state={state} piece={piece} lanes={motion.place_lanes} />
            <LookRows state={state} piece={piece} />
          </>
        )}
      </Box>
    </Box>
  );
}
