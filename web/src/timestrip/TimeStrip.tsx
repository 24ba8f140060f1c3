import { Box, Typography } from "@mui/material";
import { useState } from "react";
import type { StudyState } from "../api/client";
import { loopOf, type DocValue, type Piece, documentOf } from "../api/document";
import { useSeam } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { CurveEditor } from "./CurveEditor";
import { LaneFilter, laneMatches } from "./LaneFilter";
import { LaneNames, StripFoot } from "./LaneNames";
import { LaneRow } from "./LaneRow";
import { LoopRing } from "./LoopRing";
import { lanesOf } from "./ownLanes";
import { PlayControls } from "./PlayControls";
import { RangeBar } from "./RangeBar";
import { StripGround } from "./StripGround";
import { usePlay } from "./usePlay";

/** The loop as a ring, a lane for each moving value, and how it plays. */
export function TimeStrip({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const loop = loopOf(documentOf(state));
  const seam = useSeam(state.id, state.revision);
  const set = useInterface((s) => s.set);
  const change = useChange(state.id, "");
  const marked = useInterface((s) => s.marker);
  const marker = documentOf(state).markers?.find((m) => m.id === marked);
  const lanes = lanesOf(state, piece, marked);
  const curve = useInterface((s) => s.curve);
  const opened = lanes.find((l) => l.path === curve);
  const byTime =
    !marker && state.motion.some((m) => m.id === piece?.id && m.steps.some((w) => w.by_time));
  const keys = [
    ...new Set(lanes.flatMap((l) => l.signal?.keys?.map((k) => k.frame % loop.frames) ?? [])),
  ];
  usePlay(loop.frames, loop.rate);
  const [wanted, setWanted] = useState("");
  const found = lanes.filter((l) => laneMatches(l, wanted));
  return (
    <Box
      component="section"
      aria-label="Time strip"
      sx={{
        borderTop: "1px solid",
        borderColor: "divider",
        display: "grid",
        gridTemplateColumns: "176px minmax(0, 1fr) 168px",
        gridTemplateRows: "minmax(0, 1fr)",
        minHeight: 0,
      }}
    >
      <LoopRing
        state={state}
        frames={loop.frames}
        oneWay={loop.oneWay}
        keys={keys}
        seams={seam.data}
        measuring={seam.isFetching || seam.isPending}
      />
      <Box
        sx={{
          borderLeft: "1px solid",
          borderRight: "1px solid",
          borderColor: "divider",
          display: "flex",
          flexDirection: "column",
          minHeight: 0,
        }}
      >
        {opened?.signal?.keys ? (
          <Box
            sx={{
              flex: 1,
              minHeight: 0,
              display: "grid",
              gridTemplateColumns: "150px minmax(0, 1fr)",
            }}
          >
            <LaneNames lanes={lanes} />
            <CurveEditor
              key={opened.path}
              lane={opened.lane}
              signal={opened.signal}
              frames={loop.frames}
              rate={loop.rate}
              live={(signal) => change.live(opened.path.slice(1), signal as DocValue)}
              store={(signal, label) => change.store(opened.path.slice(1), signal, label)}
            />
          </Box>
        ) : (
          <>
            <Box
              tabIndex={-1}
              sx={{
                flex: 1,
                minHeight: 0,
                overflowY: "auto",
                display: "flex",
                flexDirection: "column",
                "& > *": { flexShrink: 0 },
              }}
            >
              {lanes.length === 0 && (
                <Typography variant="body2" color="textSecondary" sx={{ p: 2 }}>
                  {byTime ? "A step here moves by itself." : "Nothing moves yet."} The wave ∿ beside
                  a value makes it move, and its lane stands here.
                </Typography>
              )}
              {lanes.length > 0 && found.length === 0 && (
                <Typography variant="body2" color="textSecondary" sx={{ p: 2 }}>
                  No lane is called “{wanted}”.
                </Typography>
              )}
              {found.map((own) => (
                <LaneRow
                  key={own.path}
                  study={state.id}
                  path={own.path}
                  number={own.number}
                  lane={own.lane}
                  signal={own.signal}
                  frames={loop.frames}
                  open={() => own.row && set({ step: own.row, ribbon: "when" })}
                  live={(signal) => change.live(own.path.slice(1), signal as DocValue)}
                  store={(signal, label) => change.store(own.path.slice(1), signal, label)}
                />
              ))}
              <StripGround frames={loop.frames} marked={found.length > 0} />
            </Box>
            <Box sx={{ position: "relative" }}>
              {(lanes.length > 3 || wanted !== "") && (
                <LaneFilter wanted={wanted} change={setWanted} />
              )}
              <RangeBar frames={loop.frames} />
            </Box>
          </>
        )}
        <StripFoot lanes={lanes} />
      </Box>
      <PlayControls state={state} />
    </Box>
  );
}
