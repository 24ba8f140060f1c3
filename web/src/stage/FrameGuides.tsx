import { Box } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { StudyState } from "../api/client";
import { useParts, type Guide } from "../common/store/store";
import { frameWithin } from "./studyCamera";
import { useSceneMoment } from "./useMoment";
import { useRoom } from "./useRoom";

const LINE = "1px solid #ffffff66";
const SAFE = [0.9, 0.8];

/** What the study's camera takes a picture of: what lies outside is dimmed, and guides lie over it. */
export function FrameGuides({ state }: { state: StudyState }) {
  const { view, four, guides } = useParts("view", "four", "guides");
  const shown = view.name === "camera" && !four;
  return shown ? <Frame state={state} guides={guides} /> : null;
}

function Frame({ state, guides }: { state: StudyState; guides: Guide[] }) {
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const own = place.current!;
    const watch = new ResizeObserver(([entry]) => setSize(entry.contentRect));
    watch.observe(own);
    return () => watch.disconnect();
  }, []);
  const { aspect } = useSceneMoment(state).view;
  const room = useRoom();
  const frame = frameWithin(size, aspect);
  const width = `${frame.width * 100}%`;
  const height = `${frame.height * 100}%`;
  return (
    // What is dimmed goes on under whatever covers a part of the stage.
    <Box sx={{ position: "absolute", inset: 0, overflow: "hidden", pointerEvents: "none" }}>
      <Box
        ref={place}
        data-testid="frame-guides"
        sx={{
          position: "absolute",
          inset: 0,
          right: room,
          display: "grid",
          placeItems: "center",
        }}
      >
        <Box
          data-testid="camera-frame"
          sx={{
            width,
            height,
            position: "relative",
            outline: "1px solid #ffffffb3",
            boxShadow: "0 0 0 4000px #14112094",
          }}
        >
          {guides.includes("thirds") && <Thirds />}
          {guides.includes("safe") &&
            SAFE.map((share) => (
              <Box
                key={share}
                data-guide="safe"
                sx={{
                  position: "absolute",
                  inset: `${((1 - share) / 2) * 100}%`,
                  border: share === SAFE[0] ? LINE : "1px dashed #ffffff66",
                }}
              />
            ))}
          {guides.includes("centre") && <Centre />}
        </Box>
      </Box>
    </Box>
  );
}

function Thirds() {
  return [1, 2].flatMap((k) => [
    <Box
      key={`x${k}`}
      data-guide="thirds"
      sx={{
        position: "absolute",
        left: `${(k * 100) / 3}%`,
        top: 0,
        bottom: 0,
        borderLeft: LINE,
      }}
    />,
    <Box
      key={`y${k}`}
      data-guide="thirds"
      sx={{ position: "absolute", top: `${(k * 100) / 3}%`, left: 0, right: 0, borderTop: LINE }}
    />,
  ]);
}

function Centre() {
  return (
    <>
      <Box
        data-guide="centre"
        sx={{
          position: "absolute",
          left: "50%",
          top: "calc(50% - 11px)",
          height: 22,
          borderLeft: LINE,
        }}
      />
      <Box
        data-guide="centre"
        sx={{
          position: "absolute",
          top: "50%",
          left: "calc(50% - 11px)",
          width: 22,
          borderTop: LINE,
        }}
      />
    </>
  );
}
