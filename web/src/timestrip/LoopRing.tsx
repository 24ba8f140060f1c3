import { Box, Tooltip, useTheme } from "@mui/material";
import { memo, useRef, useState, type PointerEvent } from "react";
import type { Schemas, StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { playRange } from "../model/playRange";
import { arcPath, frameAt, placeOn, type Dial } from "./dial";
import { readyRuns } from "./readyRuns";
import { SeamPanel } from "./SeamPanel";
import { seamSentence, seamWords } from "./seamWords";
import { PlainButton } from "../common/PlainButton";

const R = 50;

function worst(seams: Schemas["SeamState"][]): Schemas["SeamState"] | undefined {
  const order = ["closed", "nearly", "open"];
  return [...seams].sort((a, b) => order.indexOf(b.state) - order.indexOf(a.state))[0];
}

/** The rim: ready frames and keys. */
const Rim = memo(function Rim({ frames, oneWay, keys }: Dial & { keys: number[] }) {
  const dial = { frames, oneWay };
  const ready = useInterface((s) => s.ready);
  const pictures = useInterface((s) => s.pictures);
  const range = useInterface((s) => s.range);
  const { first, count } = playRange(range, frames);
  const { palette } = useTheme();
  const shade = {
    fill: "none",
    stroke: palette.roles.when,
    strokeOpacity: 0.4,
    strokeWidth: 8,
  };
  return (
    <>
      <path
        d={arcPath(0, frames, dial, R)}
        fill="none"
        stroke={palette.roles.line}
        strokeWidth={8}
      />
      {ready.size >= frames ? (
        <path d={arcPath(0, frames, dial, R)} {...shade} />
      ) : (
        readyRuns(ready, frames).map(([a, b]) => (
          <path key={a} d={arcPath(a, b, dial, R)} {...shade} />
        ))
      )}
      {readyRuns(pictures, frames).map(([a, b]) => (
        <path
          key={`picture ${a}`}
          data-pictures={a}
          d={arcPath(a, b, dial, R)}
          {...shade}
          strokeOpacity={1}
          strokeWidth={3}
        >
          <title>Pictures of these frames are kept: they play at the full rate</title>
        </path>
      ))}
      {count < frames && (
        <path
          d={arcPath(first, first + count, dial, R - 8)}
          fill="none"
          stroke={palette.roles.when}
          strokeWidth={2.5}
          data-testid="play-range"
        />
      )}
      {keys.map((k) => {
        const [x, y] = placeOn(k, dial, R);
        return <circle key={k} cx={x} cy={y} r={3} fill={palette.text.primary} />;
      })}
    </>
  );
});

/** The loop as a circle: frame 0 at the top, ready frames, keys, and the playhead to drag. */
function Ring({ frames, oneWay, keys, tone }: Dial & { keys: number[]; tone: string }) {
  const dial = { frames, oneWay };
  const { palette } = useTheme();
  const frame = useInterface((s) => s.frame);
  const set = useInterface((s) => s.set);
  const svg = useRef<SVGSVGElement>(null);
  const scrub = (event: PointerEvent) => {
    if (event.buttons !== 1 || !svg.current) return;
    const box = svg.current.getBoundingClientRect();
    const x = event.clientX - box.left - box.width / 2;
    const y = event.clientY - box.top - box.height / 2;
    set({ frame: frameAt(x, y, dial), playing: false });
  };
  const [hx, hy] = placeOn(frame, dial, R);
  return (
    <svg
      ref={svg}
      viewBox="-64 -64 128 128"
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={frames - 1}
      aria-valuenow={frame}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrub(e);
      }}
      onPointerMove={scrub}
      onKeyDown={(e) => {
        const step = e.shiftKey ? 10 : 1;
        const to = {
          ArrowRight: frame + step,
          ArrowUp: frame + step,
          ArrowLeft: frame - step,
          ArrowDown: frame - step,
          Home: 0,
          End: frames - 1,
        }[e.key];
        if (to === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        set({ frame: ((to % frames) + frames) % frames, playing: false });
      }}
      style={{
        width: 128,
        height: 128,
        cursor: "pointer",
        touchAction: "none",
        userSelect: "none",
        flex: "none",
      }}
    >
      <Rim frames={frames} oneWay={oneWay} keys={keys} />
      {!oneWay && <path d="M-5 -62H5L0 -54Z" fill={tone} />}
      <line
        x1={hx * 0.78}
        y1={hy * 0.78}
        x2={hx * 0.94}
        y2={hy * 0.94}
        stroke={palette.text.primary}
        strokeWidth={2}
      />
      <circle cx={hx} cy={hy} r={5.5} fill={palette.text.primary} data-testid="playhead" />
      <text
        textAnchor="middle"
        y={3}
        fontSize={21}
        fill={palette.text.primary}
        fontFamily='"Fraunces Variable", serif'
      >
        {frame}
      </text>
      <text textAnchor="middle" y={18} fontSize={10.5} fill={palette.text.secondary}>
        of {frames}
      </text>
    </svg>
  );
}

/** The loop's ring, and how well it closes. */
export function LoopRing(props: {
  state: StudyState;
  frames: number;
  oneWay: boolean;
  keys: number[];
  seams: Schemas["SeamState"][] | undefined;
  measuring: boolean;
}) {
  const { state, frames, oneWay, keys, seams, measuring } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { palette } = useTheme();
  const seam = worst(seams ?? []);
  const tones = { closed: palette.roles.ok, nearly: palette.roles.amber, open: palette.error.main };
  const tone = oneWay
    ? palette.text.secondary
    : seam
      ? (tones[seam.state as keyof typeof tones] ?? palette.error.main)
      : palette.text.secondary;
  const name = documentOf(state).pieces.find((p) => p.id === seam?.piece)?.name;
  const explained = seamSentence(seam, name ?? "the piece", oneWay);
  return (
    <Box sx={{ display: "flex", flexDirection: "column", alignItems: "center", pt: 1 }}>
      <Ring frames={frames} oneWay={oneWay} keys={keys} tone={tone} />
      <Tooltip title={explained}>
        <PlainButton
          aria-haspopup="dialog"
          onClick={(e) => setAnchor(e.currentTarget)}
          sx={{
            cursor: "pointer",
            color: tone,
            fontSize: 11.5,
            mt: 0.25,
            fontFamily: FIGURES,
            whiteSpace: "nowrap",
            borderBottom: "1px dotted",
            "&:focus-visible": { outline: "2px solid", outlineOffset: 2 },
          }}
        >
          <span role="status" data-testid="seam">
            {seamWords(seam, measuring)}
          </span>
        </PlainButton>
      </Tooltip>
      <SeamPanel state={state} seams={seams ?? []} anchor={anchor} close={() => setAnchor(null)} />
    </Box>
  );
}
