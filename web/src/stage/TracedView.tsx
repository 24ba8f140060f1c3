import { Box, LinearProgress } from "@mui/material";
import { useEffect, useState, type RefObject } from "react";
import { useShallow } from "zustand/react/shallow";
import type { StudyState } from "../api/client";
import { presentEye } from "../common/eye";
import { useInterface } from "../common/store/store";
import { Corner } from "./stageButtons";
import { LEGEND } from "./legend";
import { useRoom } from "./useRoom";
import { finenessWords, sizeOfPicture, whyNotTraced } from "./restingView";
import { useTracedPicture } from "./useTracedPicture";

/** The study as path tracing draws it, over the stage, where the view rests. */
export function TracedView({
  state,
  place,
}: {
  state: StudyState;
  place: RefObject<HTMLElement | null>;
}) {
  const wanted = useInterface((s) => s.draw === "traced");
  return wanted ? <Traced state={state} place={place} /> : null;
}

function Traced({ state, place }: { state: StudyState; place: RefObject<HTMLElement | null> }) {
  const why = useInterface(whyNotTraced);
  const { frame, quality, view } = useInterface(
    useShallow((s) => ({ frame: s.frame, quality: s.quality, view: s.view })),
  );
  const room = useRoom();
  const at = useSizeOf(place);
  const turned = useTurned();
  const isOwn = view.name === "camera";
  const size = sizeOfPicture(at.width - room, at.height, window.devicePixelRatio);
  const rests = why === null && at.width > 0;
  const seen = [state.id, state.revision, frame, quality, view.name, view.count, turned];
  const picture = useTracedPicture(
    rests ? [...seen, size.width, size.height].join() : null,
    () => ({ study: state.id, frame, quality, ...size, eye: isOwn ? null : presentEye() }),
  );
  if (why === "") return null;
  return (
    <>
      {picture.shown && (
        <Box
          component="img"
          data-testid="traced"
          src={picture.shown}
          alt="The study as path tracing draws it"
          sx={{
            position: "absolute",
            left: 0,
            top: 0,
            width: `calc(100% - ${room}px)`,
            height: "100%",
            // Turning and zooming go to the stage below.
            pointerEvents: "none",
          }}
        />
      )}
      <Corner at={{ right: 14 + room, bottom: 10, ...LEGEND }}>
        <Box
          role="status"
          data-testid="fineness"
          sx={picture.error ? { color: "#ffb4a0", maxWidth: 420 } : { minWidth: 120 }}
        >
          {picture.error ?? why ?? finenessWords(picture.samples, picture.of)}
          {!picture.error && why === null && picture.samples !== picture.of && (
            <LinearProgress
              aria-label="How fine the picture is"
              variant={picture.samples ? "determinate" : "indeterminate"}
              value={((picture.samples ?? 0) / Math.max(picture.of, 1)) * 100}
              sx={{ height: 2, my: 0.25, bgcolor: "#ffffff22" }}
              color="inherit"
            />
          )}
        </Box>
      </Corner>
    </>
  );
}

/** Another number after each time that the view was turned. */
function useTurned(): number {
  const [turned, setTurned] = useState(0);
  const turning = useInterface((s) => s.turning);
  useEffect(() => {
    if (!turning) setTurned((n) => n + 1);
  }, [turning]);
  return turned;
}

function useSizeOf(place: RefObject<HTMLElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width, height });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, [place]);
  return size;
}
