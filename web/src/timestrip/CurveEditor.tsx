import { Box, useTheme } from "@mui/material";
import { useRef, useState, type KeyboardEvent, type PointerEvent, type WheelEvent } from "react";
import type { Lane } from "../api/client";
import type { KeyPoint, SignalValue } from "../api/document";
import { useInterface } from "../common/store/store";
import { curvePoints, repeatsOf, tangentsOf } from "../model/keyCurve";
import { shifted, sortedKeys, withoutDoubles } from "../model/keyEdits";
import { withUnit } from "../model/parse";
import { CurveTools } from "./CurveTools";
import {
  fittedView,
  limitedView,
  movedView,
  roundLevels,
  zoomedView,
  type EditorView,
} from "./editorView";
import { pasted } from "./groupEdits";
import { KeyFields } from "./KeyFields";
import { roundStep } from "./roundStep";
import { Tangents } from "./Tangents";
import { useSize } from "./useSize";

interface Props {
  lane: Lane;
  signal: SignalValue;
  frames: number;
  /** Frames a second, for keys typed in seconds. */
  rate: number;
  live: (signal: SignalValue) => void;
  store: (signal: SignalValue, label: string) => void;
}

type Held =
  | { what: "keys"; x: number; y: number; from: KeyPoint[]; moved: boolean }
  | { what: "box"; x: number; y: number; toX: number; toY: number }
  | { what: "view"; x: number; y: number; from: EditorView };

function counted(keys: number) {
  return keys === 1 ? "1 key" : `${keys} keys`;
}

/** The keys of one lane at large: dragged, boxed, zoomed, with their tangents. */
export function CurveEditor({ lane, signal, frames, rate, live, store }: Props) {
  const { palette } = useTheme();
  const frame = useInterface((s) => s.frame);
  const copied = useInterface((s) => s.copiedKeys);
  const set = useInterface((s) => s.set);
  const [held, setHeld] = useState<Held | null>(null);
  const [drawn, setDrawn] = useState<KeyPoint[] | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [snap, setSnap] = useState(true);
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const keys = drawn ?? sortedKeys(signal.keys ?? []);
  const [view, setView] = useState(() => fittedView(lane.samples, keys, frames));
  const repeats = repeatsOf(signal);
  const toX = (f: number) => ((f - view.from) / (view.to - view.from)) * width;
  const toY = (v: number) => height - ((v - view.low) / (view.high - view.low)) * height;
  const place = (event: { clientX: number; clientY: number }) => {
    const box = holder.current!.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    return {
      x,
      y,
      frame: view.from + (x / width) * (view.to - view.from),
      value: view.low + (1 - y / height) * (view.high - view.low),
    };
  };
  const show = (next: KeyPoint[]) => {
    setDrawn(next);
    live({ ...signal, keys: sortedKeys(next) });
  };
  const write = (next: KeyPoint[], label: string, choose: Iterable<KeyPoint> = []) => {
    const kept = withoutDoubles(next);
    setDrawn(null);
    setChosen(new Set([...choose].map((k) => kept.indexOf(k)).filter((i) => i >= 0)));
    store({ ...signal, keys: kept }, label);
  };
  const change = (label: string, alter: (keys: KeyPoint[]) => KeyPoint[]) => {
    const next = alter(keys);
    write(
      next,
      label,
      next.filter((_, k) => chosen.has(k)),
    );
  };
  const down = (event: PointerEvent) => {
    if (event.button > 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y } = place(event);
    if (event.button === 1 || event.altKey) setHeld({ what: "view", x, y, from: view });
    else {
      if (!event.shiftKey) setChosen(new Set());
      setHeld({ what: "box", x, y, toX: x, toY: y });
    }
  };
  const grab = (event: PointerEvent, k: number) => {
    event.stopPropagation();
    holder.current?.setPointerCapture(event.pointerId);
    holder.current?.focus();
    const next = new Set(event.shiftKey || chosen.has(k) ? chosen : []);
    if (event.shiftKey && chosen.has(k)) next.delete(k);
    else next.add(k);
    setChosen(next);
    setHeld({ what: "keys", ...place(event), from: keys, moved: false });
  };
  const move = (event: PointerEvent) => {
    if (!held) return;
    const at = place(event);
    const across = ((at.x - held.x) / width) * (view.to - view.from);
    const up = (-(at.y - held.y) / height) * (view.high - view.low);
    if (held.what === "view") {
      const start = held.from;
      const moved = movedView(
        start,
        (-(at.x - held.x) / width) * (start.to - start.from),
        ((at.y - held.y) / height) * (start.high - start.low),
      );
      setView(limitedView(moved, keys, frames));
    } else if (held.what === "box") setHeld({ ...held, toX: at.x, toY: at.y });
    else if (held.moved || Math.hypot(at.x - held.x, at.y - held.y) > 2) {
      setHeld({ ...held, moved: true });
      // With Shift only the time changes, with Control only the value.
      const frames = event.ctrlKey ? 0 : across;
      show(shifted(held.from, chosen, snap ? Math.round(frames) : frames, event.shiftKey ? 0 : up));
    }
  };
  const release = () => {
    if (held?.what === "keys" && held.moved) {
      write(
        keys,
        "Move keys",
        keys.filter((_, k) => chosen.has(k)),
      );
    }
    if (held?.what === "box") {
      const inside = (v: number, a: number, b: number) =>
        v >= Math.min(a, b) && v <= Math.max(a, b);
      const boxed = keys.flatMap((k, i) =>
        inside(toX(k.frame), held.x, held.toX) && inside(toY(k.value), held.y, held.toY) ? [i] : [],
      );
      setChosen(new Set([...chosen, ...boxed]));
    }
    setHeld(null);
  };
  const wheel = (event: WheelEvent) => {
    const factor = 1.0015 ** event.deltaY;
    const by = event.shiftKey ? [1, factor] : event.ctrlKey ? [factor, factor] : [factor, 1];
    setView(limitedView(zoomedView(view, place(event), by[0], by[1]), keys, frames));
  };
  const paste = (backwards: boolean) => {
    const made = pasted(copied?.keys ?? [], Math.round(frame), backwards);
    write([...keys, ...made], backwards ? "Paste keys reversed" : "Paste keys", made);
  };
  const press = (event: KeyboardEvent) => {
    const nudge = roundStep((view.high - view.low) / 100) * (event.shiftKey ? 10 : 1);
    const step = event.shiftKey ? 10 : 1;
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, nudge],
      ArrowDown: [0, -nudge],
    };
    const command = event.ctrlKey || event.metaKey;
    const picked = keys.filter((_, k) => chosen.has(k));
    const run = () => {
      if (ways[event.key] && chosen.size)
        return () => change("Nudge keys", (all) => shifted(all, chosen, ...ways[event.key]));
      if ((event.key === "Delete" || event.key === "Backspace") && chosen.size)
        return () =>
          chosen.size < keys.length &&
          write(
            keys.filter((_, k) => !chosen.has(k)),
            "Remove keys",
          );
      if ((event.key === "PageDown" || event.key === "PageUp") && keys.length)
        return () => {
          // From key to key; from none to the first, or to the last.
          const way = event.key === "PageDown" ? 1 : -1;
          const from = chosen.size ? Math.max(...chosen) : way > 0 ? -1 : keys.length;
          setChosen(new Set([Math.min(keys.length - 1, Math.max(0, from + way))]));
        };
      if (command && event.key === "a") return () => setChosen(new Set(keys.keys()));
      if (command && event.key === "c" && picked.length)
        return () => set({ copiedKeys: { keys: picked } });
      if (command && event.key.toLowerCase() === "v" && copied) return () => paste(event.shiftKey);
      if (event.key === "Escape" && chosen.size) return () => setChosen(new Set());
      return null;
    };
    const found = run();
    if (!found) return;
    event.preventDefault();
    event.stopPropagation();
    found();
  };
  const points = curvePoints(keys, repeats, view.from, view.to);
  const tangents = tangentsOf(keys, repeats);
  const ticks = [0, 0.25, 0.5, 0.75, 1].map((s) => Math.round(s * frames));
  const levels = roundLevels(view);
  const key = chosen.size === 1 ? keys[[...chosen][0]] : null;
  return (
    <Box sx={{ display: "flex", flexDirection: "column", height: "100%", minHeight: 0 }}>
      <CurveTools
        keys={keys}
        chosen={chosen}
        frames={frames}
        frame={frame}
        snap={snap}
        setSnap={setSnap}
        change={change}
        paste={copied ? () => paste(true) : null}
        fit={() => setView(fittedView(lane.samples, keys, frames))}
        chosenKey={
          key && (
            <KeyFields
              chosen={key}
              unit={lane.unit}
              rate={rate}
              write={(next) =>
                change("Set key", (all) => all.map((k, i) => (chosen.has(i) ? next : k)))
              }
            />
          )
        }
        says={
          key
            ? ""
            : chosen.size
              ? counted(chosen.size)
              : "Drag a box to choose keys; a double click adds one."
        }
      />
      <Box
        ref={holder}
        tabIndex={0}
        role="group"
        aria-label={`Curve of ${lane.label}: ${counted(keys.length)}, ${chosen.size} chosen`}
        data-curve
        // The browser would begin to drag a label that it takes for chosen text.
        onDragStart={(e) => e.preventDefault()}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={release}
        onWheel={wheel}
        onKeyDown={press}
        onDoubleClick={(event) => {
          const at = place(event);
          const one: KeyPoint = {
            frame: Math.round(at.frame),
            value: Number(at.value.toPrecision(4)),
            ease: "smooth",
          };
          write([...keys, one], "Add key", [one]);
        }}
        sx={{
          flex: 1,
          minHeight: 0,
          position: "relative",
          touchAction: "none",
          userSelect: "none",
          overflow: "hidden",
        }}
      >
        <svg width={width} height={height} style={{ display: "block" }} aria-hidden>
          {ticks.map((f) => (
            <g key={f}>
              <line x1={toX(f)} x2={toX(f)} y1={0} y2={height} stroke={palette.roles.line} />
              <text x={toX(f) + 3} y={height - 4} fontSize={10.5} fill={palette.text.secondary}>
                {f}
              </text>
            </g>
          ))}
          {levels.map((v, k) => (
            <g key={k}>
              <line x1={0} x2={width} y1={toY(v)} y2={toY(v)} stroke={palette.roles.quiet} />
              <text x={4} y={toY(v) - 3} fontSize={10.5} fill={palette.text.secondary}>
                {withUnit(v, lane.unit)}
              </text>
            </g>
          ))}
          <path
            d={`M${points.map(([f, v]) => `${toX(f).toFixed(1)} ${toY(v).toFixed(1)}`).join("L")}`}
            fill="none"
            stroke={palette.roles.when}
            strokeWidth={1.8}
          />
          <line
            x1={toX(frame)}
            x2={toX(frame)}
            y1={0}
            y2={height}
            stroke={palette.text.primary}
            opacity={0.6}
          />
          <Tangents
            keys={keys}
            tangents={tangents}
            chosen={chosen}
            toX={toX}
            toY={toY}
            place={place}
            show={show}
            end={() => change("Turn a tangent", (all) => all)}
          />
          {keys.map((k, i) => (
            <circle
              key={i}
              data-key={i}
              cx={toX(k.frame)}
              cy={toY(k.value)}
              r={chosen.has(i) ? 6 : 4.5}
              fill={chosen.has(i) ? palette.roles.what : palette.text.primary}
              stroke={palette.roles.card}
              strokeWidth={1.5}
              style={{ cursor: "grab" }}
              onPointerDown={(e) => grab(e, i)}
              onDoubleClick={(e) => e.stopPropagation()}
            />
          ))}
          {held?.what === "box" && (
            <rect
              x={Math.min(held.x, held.toX)}
              y={Math.min(held.y, held.toY)}
              width={Math.abs(held.toX - held.x)}
              height={Math.abs(held.toY - held.y)}
              fill={palette.roles.what}
              fillOpacity={0.1}
              stroke={palette.roles.what}
              strokeDasharray="3 3"
            />
          )}
        </svg>
      </Box>
    </Box>
  );
}
