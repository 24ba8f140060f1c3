import { Box, Typography, useTheme } from "@mui/material";
import { useRef, useState, type KeyboardEvent, type MouseEvent, type PointerEvent } from "react";
import type { Lane } from "../api/client";
import type { KeyPoint, SignalValue } from "../api/document";
import { useInterface } from "../common/store/store";
import { useTriedSignal } from "../common/useTriedSignal";
import { laneShape } from "../model/laneShape";
import { withUnit } from "../model/parse";
import { nudgedKey } from "./nudgedKey";
import { Playhead } from "./Playhead";
import { SCRUBBED, useScrub } from "./useScrub";
import { PlainButton } from "../common/PlainButton";

const HEIGHT = 32;
const MARGIN = 6;

const NONE: SignalValue = { signal: "hold" };

interface Props {
  study: string;
  /** Path of the signal in the document. */
  path: string;
  number: string;
  lane: Lane;
  signal: SignalValue | null;
  frames: number;
  open: () => void;
  live: (signal: SignalValue) => void;
  store: (signal: SignalValue, label: string) => void;
}

function sorted(keys: KeyPoint[]): KeyPoint[] {
  return [...keys].sort((a, b) => a.frame - b.frame);
}

/** One moving value over the loop; the keys of a keyed one are taken by the hand. */
export function LaneRow(props: Props) {
  const { frames, path } = props;
  const tried = useTriedSignal(props.study, path, props.lane, props.signal ?? NONE);
  const signal = props.signal && tried.signal;
  const lane = tried.lane;
  const { palette } = useTheme();
  const chosen = useInterface((s) => (s.key?.path === path ? s.key.index : null));
  const set = useInterface((s) => s.set);
  const box = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<KeyPoint[] | null>(null);
  const keys = held ?? signal?.keys ?? [];
  const shape = laneShape(
    lane,
    1000,
    HEIGHT,
    MARGIN,
    keys.map((k) => k.value),
  );
  const { low, y } = shape;
  const span = shape.high - low || 1;
  const placeOf = (event: { clientX: number; clientY: number }) => {
    const area = box.current!.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (event.clientX - area.left) / area.width));
    const up = 1 - (event.clientY - area.top - MARGIN) / (HEIGHT - 2 * MARGIN);
    const value = low + Math.min(1, Math.max(0, up)) * span;
    return { frame: Math.round(share * frames), value: Number(value.toPrecision(4)) };
  };
  const write = (next: KeyPoint[], label: string) =>
    signal && props.store({ ...signal, keys: sorted(next) }, label);
  const add = (event: MouseEvent) => {
    if (signal?.signal !== "keys") return;
    const key: KeyPoint = { ...placeOf(event), ease: "smooth" };
    const next = sorted([...keys.filter((k) => k.frame !== key.frame), key]);
    write(next, "Add key");
    set({ key: { path, index: next.indexOf(key) } });
  };
  const drag = (event: PointerEvent, index: number) => {
    if (event.buttons !== 1 || !signal) return;
    const place = placeOf(event);
    const origin = (signal.keys ?? [])[index];
    // With Shift only the time changes, so that a value can be kept while it is moved.
    const value = event.shiftKey ? origin.value : place.value;
    const next = keys.map((k, i) => (i === index ? { ...k, frame: place.frame, value } : k));
    setHeld(next);
    props.live({ ...signal, keys: sorted(next) });
  };
  const drop = () => {
    if (held) write(held, "Move key");
    setHeld(null);
  };
  const nudge = (event: KeyboardEvent, index: number) => {
    const next = signal && nudgedKey(keys, index, event.key, event.shiftKey, span);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    // A key that is held down is one edit, stored when it is let go.
    setHeld(next);
    props.live({ ...signal, keys: next });
  };
  const scrub = useScrub(frames);
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "150px 1fr",
        borderBottom: "1px dotted",
        borderColor: "divider",
      }}
    >
      <PlainButton
        onClick={props.open}
        sx={{ pl: 1.5, cursor: "pointer", minWidth: 0, alignSelf: "center" }}
      >
        <Typography variant="body2" noWrap title={`${lane.label}, ${lane.signal}`}>
          <b>{props.number}</b> {lane.label}
          <Typography component="span" variant="caption" color="textSecondary">
            {" "}
            · {lane.signal}
          </Typography>
        </Typography>
      </PlainButton>
      <Box
        ref={box}
        data-lane={path}
        onDoubleClick={add}
        {...scrub}
        sx={{ position: "relative", height: HEIGHT, mx: 2, ...SCRUBBED }}
      >
        <svg
          viewBox={`0 0 1000 ${HEIGHT}`}
          preserveAspectRatio="none"
          style={{ width: "100%", height: "100%", display: "block" }}
          role="img"
          aria-label={`${lane.label}, from ${withUnit(low, lane.unit)} to ${withUnit(low + span, lane.unit)}`}
        >
          {shape.wave && <path d={shape.wave} fill={palette.text.secondary} fillOpacity={0.22} />}
          {shape.band && <path d={shape.band} fill={palette.roles.when} fillOpacity={0.14} />}
          <path
            d={shape.line}
            fill="none"
            stroke={palette.roles.when}
            strokeWidth={1.6}
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <Playhead frames={frames} />
        {keys.map((key, index) => (
          <PlainButton
            key={index}
            aria-label={`Key at frame ${key.frame}, ${withUnit(key.value, lane.unit)}`}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              set({ key: { path, index } });
            }}
            onPointerMove={(e) => drag(e, index)}
            onPointerUp={drop}
            onKeyDown={(e) => nudge(e, index)}
            onKeyUp={drop}
            onBlur={drop}
            onFocus={() => set({ key: { path, index } })}
            onDoubleClick={(e) => e.stopPropagation()}
            style={{ left: `${(key.frame / frames) * 100}%`, top: y(key.value) }}
            sx={{
              position: "absolute",
              width: 9,
              height: 9,
              borderRadius: "50%",
              transform: "translate(-50%, -50%)",
              bgcolor: chosen === index ? "roles.what" : "text.primary",
              outline: chosen === index ? "2px solid" : "none",
              outlineColor: "roles.what",
              outlineOffset: 2,
              cursor: "grab",
              touchAction: "none",
            }}
          />
        ))}
      </Box>
    </Box>
  );
}
