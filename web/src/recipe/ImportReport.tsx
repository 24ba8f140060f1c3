import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { client, unwrap, type Operation, type Schemas, type StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { readWords, sizeWords } from "../model/importWords";

type Repair = Schemas["RepairOffer"];

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
}

function useImportReport(state: StudyState, piece: string) {
  return useQuery({
    queryKey: ["import", state.id, piece, state.revision],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/pieces/{piece_id}/import", {
          params: { path: { study_id: state.id, piece_id: piece } },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}

/** What was read from a file, and what would put it right; each repair is shown before it is
 * taken. */
export function ImportReport({ state, piece, step }: Props) {
  const found = useImportReport(state, piece.id);
  const [tried, setTried] = useState<string | null>(null);
  const base = `/pieces/${piece.id}/recipe/${step.id}/values`;
  const change = useChange(state.id, base);
  const showing = useRef(false);
  const show = (repair: Repair | null) => {
    setTried(repair?.key ?? null);
    showing.current = repair !== null;
    useInterface.getState().set({ live: repair ? operations(base, repair) : [], dragging: false });
  };
  // What is only shown does not outlast the place where it can be left.
  useEffect(
    () => () => {
      if (showing.current) useInterface.getState().set({ live: [] });
    },
    [],
  );
  if (found.isError)
    return (
      <Typography variant="body2" color="error" role="alert">
        {found.error.message}
      </Typography>
    );
  if (!found.data)
    return (
      <Typography variant="body2" color="textSecondary" role="status">
        Looking the mesh over…
      </Typography>
    );
  const { now, read, repairs, filename } = found.data;
  return (
    <Box component="section" aria-label="What was read" sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
        <b>{filename}</b> holds {readWords(read)}.
      </Typography>
      <Typography variant="body2" color="textSecondary">
        On the stage {sizeWords(now.size)}
        {now.parts > 1 ? `, in ${now.parts.toLocaleString("en")} parts` : ""}.
      </Typography>
      {repairs.every((repair) => repair.minor) && (
        <Typography variant="body2" sx={{ mt: 0.5, color: "roles.ok" }}>
          ✓ Nothing to repair.
        </Typography>
      )}
      {repairs.map((repair) => (
        <Offer
          key={repair.key}
          repair={repair}
          tried={tried === repair.key}
          show={() => show(repair)}
          leave={() => show(null)}
          take={() => {
            change.edit(repair.action, operations(base, repair));
            setTried(null);
            showing.current = false;
          }}
        />
      ))}
    </Box>
  );
}

function operations(base: string, repair: Repair): Operation[] {
  return Object.entries(repair.values).map(([name, value]) => ({
    do: "set",
    path: `${base}/${name}`,
    value: value as never,
  }));
}

function Offer(props: {
  repair: Repair;
  tried: boolean;
  show: () => void;
  leave: () => void;
  take: () => void;
}) {
  const { repair, tried } = props;
  return (
    <Box
      sx={{
        mt: 0.75,
        px: 1,
        py: 0.5,
        borderRadius: 1.5,
        border: "1px solid",
        borderColor: tried ? "roles.what" : repair.minor ? "transparent" : "divider",
      }}
    >
      <Typography variant="body2" color={repair.minor ? "textSecondary" : undefined}>
        {repair.problem}
      </Typography>
      {tried ? (
        <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 0.75, mt: 0.25 }}>
          <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
            The stage shows how it would be.
          </Typography>
          <Button variant="contained" onClick={props.take} autoFocus>
            Keep it
          </Button>
          <Button onClick={props.leave}>Leave it</Button>
        </Box>
      ) : (
        <Button
          variant={repair.minor ? "text" : "outlined"}
          onClick={props.show}
          sx={{ mt: 0.25, ml: repair.minor ? -0.75 : 0 }}
        >
          {repair.action}
        </Button>
      )}
    </Box>
  );
}
