import ChevronLeft from "@mui/icons-material/ChevronLeft";
import ChevronRight from "@mui/icons-material/ChevronRight";
import CloseOutlined from "@mui/icons-material/CloseOutlined";
import PauseOutlined from "@mui/icons-material/PauseOutlined";
import PlayArrow from "@mui/icons-material/PlayArrow";
import { Box, IconButton, Typography } from "@mui/material";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import type { StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { useCompiling, useStudies, useStudy } from "../api/queries";
import { useInterface } from "../common/store/store";
import { KeptLayer } from "../stage/KeptLayer";
import { useStageCanvas } from "../stage/StageCanvas";
import { useBackdrop } from "../stage/useBackdrop";
import { useShown } from "../stage/useStageFrames";
import { usePlay } from "../timestrip/usePlay";

/** A loop is seen at least so long, in seconds, and whole loops only. */
const LEAST_S = 5;
/** What cannot be drawn for so long is passed over. */
const LATE_MS = 60_000;

/** All loops one after the other, over the whole window, each through its study's camera. */
export function ReelPage() {
  const studies = useStudies();
  const go = useNavigate();
  const [at, setAt] = useState(0);
  const place = useRef<HTMLDivElement>(null);
  const all = studies.data ?? [];
  const count = Math.max(all.length, 1);
  const by = useCallback((step: number) => setAt((now) => (now + step + count) % count), [count]);
  const close = () => {
    if (document.fullscreenElement) void document.exitFullscreen();
    void go("/");
  };
  useHotkeys("escape", close);
  useHotkeys("right", () => by(1), [by]);
  useHotkeys("left", () => by(-1), [by]);
  useHotkeys("space", (e) => {
    e.preventDefault();
    const { playing, set } = useInterface.getState();
    set({ playing: !playing });
  });
  const study = all[at % count];
  return (
    <Box
      ref={place}
      component="main"
      aria-label="Show-reel"
      sx={{ position: "fixed", inset: 0, bgcolor: "#0d0b12", color: "#f4ecdd", overflow: "hidden" }}
    >
      {study && <Shown key={study.id} id={study.id} next={() => by(1)} />}
      {studies.data && !study && (
        <Middle>There is no study yet; close this and begin with one.</Middle>
      )}
      <Box
        sx={{
          position: "absolute",
          left: 0,
          right: 0,
          bottom: 0,
          zIndex: 5,
          display: "flex",
          alignItems: "center",
          gap: 1,
          px: 3,
          py: 1.5,
          background: "linear-gradient(transparent, #0d0b12cc)",
          "& button": { color: "inherit" },
        }}
      >
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h2" component="h1" noWrap>
            {study?.name}
          </Typography>
          <Typography variant="body2" noWrap sx={{ opacity: 0.8 }}>
            {study?.note}
          </Typography>
        </Box>
        <Typography variant="body2" sx={{ opacity: 0.8, mr: 1 }}>
          {all.length ? `${(at % count) + 1} of ${all.length}` : ""}
        </Typography>
        <IconButton aria-label="Previous loop" onClick={() => by(-1)}>
          <ChevronLeft />
        </IconButton>
        <PlayButton />
        <IconButton aria-label="Next loop" onClick={() => by(1)}>
          <ChevronRight />
        </IconButton>
        <IconButton aria-label="Close the show-reel" onClick={close}>
          <CloseOutlined />
        </IconButton>
      </Box>
    </Box>
  );
}

function PlayButton() {
  const playing = useInterface((s) => s.playing);
  const set = useInterface((s) => s.set);
  return (
    <IconButton aria-label={playing ? "Pause" : "Play"} onClick={() => set({ playing: !playing })}>
      {playing ? <PauseOutlined /> : <PlayArrow />}
    </IconButton>
  );
}

function Middle({ children }: { children: ReactNode }) {
  return (
    <Box
      sx={{
        position: "absolute",
        inset: 0,
        display: "grid",
        placeItems: "center",
        pointerEvents: "none",
      }}
    >
      {children}
    </Box>
  );
}

/** One study, once it is there. */
function Shown({ id, next }: { id: string; next: () => void }) {
  const study = useStudy(id);
  useEffect(() => {
    if (study.isError) next();
  }, [study.isError, next]);
  return study.data ? <Loop state={study.data} next={next} /> : <Middle>Opening…</Middle>;
}

/** A loop that plays, until it has been seen often enough. */
function Loop({ state, next }: { state: StudyState; next: () => void }) {
  const place = useRef<HTMLDivElement>(null);
  const { frames, rate } = loopOf(documentOf(state));
  const open = useInterface((s) => s.open);
  const looked = useInterface((s) => s.look);
  const set = useInterface((s) => s.set);
  useEffect(() => {
    open({});
    looked("camera");
    set({ playing: true, frame: 0 });
    return () => set({ playing: false });
  }, [open, looked, set, state.id]);
  useStageCanvas(place, state);
  usePlay(frames, rate);
  const background = useBackdrop(state);
  const compiling = useCompiling();
  const isThere = useShown(({ shown }) => Object.keys(shown).length > 0);
  useRounds(isThere, Math.max(1, Math.ceil((LEAST_S * rate) / frames)), next);
  return (
    <Box ref={place} sx={{ position: "absolute", inset: 0, background }}>
      <KeptLayer />
      {!isThere && <Middle>{compiling || "Computing…"}</Middle>}
    </Box>
  );
}

/** Calls when the playhead has gone round so often, or nothing can be seen for long. */
function useRounds(isThere: boolean, rounds: number, done: () => void) {
  useEffect(() => {
    if (isThere) return;
    const timer = window.setTimeout(done, LATE_MS);
    return () => window.clearTimeout(timer);
  }, [isThere, done]);
  useEffect(() => {
    if (!isThere) return;
    let left = rounds;
    return useInterface.subscribe(({ frame, playing }, before) => {
      if (!playing || frame >= before.frame) return;
      left -= 1;
      if (left === 0) done();
    });
  }, [isThere, rounds, done]);
}
