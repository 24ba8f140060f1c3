import { Box, InputBase, Tooltip } from "@mui/material";
import { useContext, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { ValueEntry } from "../../api/client";
import { BeyondContext } from "./beyond";
import { swallowSecondClick } from "../../model/oneClick";
import { figure, parseNumber, withUnit } from "../../model/parse";
import { fromShare, nudged, ticks, toShare } from "../../model/scale";
import { settled } from "../../model/settled";
import { useInterface } from "../store/store";
import { FIGURES } from "../theme";
import { PlainButton } from "../PlainButton";

interface Props {
  entry: ValueEntry;
  label: string;
  value: number;
  /** Lowest and highest value over the loop, where a signal moves it. */
  range?: [number, number];
  moving?: boolean;
  /** It moves by keys: what is typed is the value of one at the playhead. */
  keyed?: boolean;
  /** As the document calls it. */
  name?: string;
  changed?: boolean;
  tone: string;
  rate: number;
  compact?: boolean;
  onLive: (value: number) => void;
  onStore: (value: number) => void;
  onOpenSignal?: () => void;
}

/** A number on a scale: drag along it, or click the figure to type. */
export function Ruler(props: Props) {
  const { entry, value, moving, keyed, tone, onLive, onStore } = props;
  // With what it has come to: a picture may be behind the pointer, and what is stored must not be.
  const start = useRef<{ x: number; share: number; width: number; to: number | null } | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [typing, setTyping] = useState(0);
  const shown = held ?? value;
  const share = Math.min(1, Math.max(0, toShare(shown, entry)));

  const grab = (event: PointerEvent<HTMLElement>) => {
    if (moving || event.button !== 0) return;
    const box = event.currentTarget.getBoundingClientRect();
    event.currentTarget.setPointerCapture(event.pointerId);
    start.current = {
      x: event.clientX,
      share: toShare(value, entry),
      width: box.width,
      to: null,
    };
  };
  const drag = (event: PointerEvent<HTMLElement>) => {
    const from = start.current;
    if (!from) return;
    const apart = event.clientX - from.x;
    if (from.to === null && Math.abs(apart) < 2) return;
    const fine = event.shiftKey ? 0.1 : 1;
    const next = fromShare(from.share + (apart / from.width) * fine, entry);
    if (next !== from.to) {
      from.to = next;
      setHeld(next);
      onLive(next);
    }
  };
  const release = (event: PointerEvent<HTMLElement>) => {
    const to = start.current?.to ?? null;
    start.current = null;
    if (to !== null) onStore(to);
    else if (keyed) setTyping((count) => count + 1);
    else if (moving) {
      swallowSecondClick(event);
      props.onOpenSignal?.();
    }
    setHeld(null);
  };
  /** A key that is held is one edit, which is stored when it is let go. */
  const pressed = useRef<number | null>(null);
  const nudge = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      event.stopPropagation();
      if (moving && !keyed) props.onOpenSignal?.();
      else setTyping((count) => count + 1);
      return;
    }
    const next = moving ? null : nudged(event.key, pressed.current ?? value, entry, event.shiftKey);
    if (next === null) return;
    event.preventDefault();
    event.stopPropagation();
    pressed.current = next;
    setHeld(next);
    onLive(next);
  };
  const letGo = () => {
    if (pressed.current !== null) onStore(pressed.current);
    pressed.current = null;
    setHeld(null);
  };

  // A compact ruler is as wide as its cell, and its figure stands on it.
  const frame = props.compact
    ? ({ position: "relative", flex: 1, minWidth: 0, height: 24 } as const)
    : ({ display: "contents" } as const);
  return (
    <Box sx={frame}>
      <Box
        role="slider"
        tabIndex={0}
        aria-label={props.label}
        aria-valuenow={shown}
        aria-valuemin={entry.soft[0]}
        aria-valuemax={entry.soft[1]}
        aria-valuetext={withUnit(shown, entry.unit)}
        aria-disabled={moving || undefined}
        onPointerDown={grab}
        onPointerMove={drag}
        onPointerUp={release}
        onPointerCancel={() => {
          start.current = null;
          setHeld(null);
        }}
        onDoubleClick={() => !moving && onStore(entry.default as number)}
        onKeyDown={nudge}
        onKeyUp={letGo}
        onBlur={letGo}
        sx={{
          position: "relative",
          height: 22,
          flex: 1,
          minWidth: 34,
          cursor: moving ? "pointer" : "ew-resize",
          touchAction: "none",
          borderBottom: "1.5px solid",
          borderColor: "text.primary",
          borderBottomStyle: moving ? "dotted" : "solid",
        }}
      >
        {ticks(entry).map((at) => (
          <Box
            key={at}
            sx={{
              position: "absolute",
              left: `${at * 100}%`,
              bottom: 0,
              width: "1px",
              height: 6,
              bgcolor: "roles.line",
            }}
          />
        ))}
        {props.range && (
          <Box
            sx={{
              position: "absolute",
              bottom: 0,
              height: 5,
              bgcolor: "roles.when",
              opacity: 0.32,
              left: `${clamp(toShare(props.range[0], entry)) * 100}%`,
              right: `${(1 - clamp(toShare(props.range[1], entry))) * 100}%`,
            }}
          />
        )}
        <Box
          sx={{
            position: "absolute",
            left: `${share * 100}%`,
            bottom: -4,
            width: held === null ? 2 : 3,
            height: props.compact ? 10 : 17,
            ml: "-1px",
            bgcolor: moving ? "roles.when" : tone,
          }}
        />
      </Box>
      <Typed {...props} shown={shown} typing={typing} />
    </Box>
  );
}

function clamp(share: number) {
  return Math.min(1, Math.max(0, share));
}

/** The figure beside the scale; a click turns it into a field. */
function Typed({
  entry,
  shown,
  moving,
  changed,
  rate,
  label,
  name,
  keyed,
  compact,
  onStore,
  onOpenSignal,
  typing,
}: Props & { shown: number; typing: number }) {
  const [text, setText] = useState<string | null>(null);
  const [asked, setAsked] = useState(typing);
  // Enter on the scale begins typing.
  if (typing !== asked) {
    setAsked(typing);
    setText(String(shown));
  }
  const [error, setError] = useState<string | null>(null);
  const beyond = useContext(BeyondContext);
  const { say } = useInterface.getState();
  const accept = () => {
    if (text === null) return;
    const parsed = parseNumber(text, entry.unit, rate);
    if ("error" in parsed) {
      setError(parsed.error);
      return;
    }
    setText(null);
    setError(null);
    const { value, note } = settled(parsed.value, entry);
    if (note) say({ text: note, tone: "info", action: beyond(name ?? "", parsed.value) });
    onStore(value);
  };
  const place = compact
    ? ({ position: "absolute", left: 0, top: 0, maxWidth: "100%" } as const)
    : ({ width: 84 } as const);
  if (text !== null) {
    return (
      <Tooltip open={error !== null} title={error ?? ""} placement="top">
        <InputBase
          autoFocus
          value={text}
          onFocus={(e) => e.target.select()}
          onChange={(e) => {
            setText(e.target.value);
            setError(null);
          }}
          onBlur={() => (error ? (setText(null), setError(null)) : accept())}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") accept();
            if (e.key === "Escape") {
              setText(null);
              setError(null);
            }
          }}
          inputProps={{ "aria-label": `${label}, typed`, "aria-invalid": error !== null }}
          sx={{
            ...place,
            fontFamily: FIGURES,
            fontSize: 11.5,
            bgcolor: compact ? "roles.card" : undefined,
            borderBottom: "1.5px solid",
            borderColor: error ? "error.main" : "text.primary",
            "& input": { p: 0 },
          }}
        />
      </Tooltip>
    );
  }
  return (
    <PlainButton
      aria-label={`${label}: ${withUnit(shown, entry.unit)}${keyed ? ", type a key" : moving ? ", moves" : ", type a value"}`}
      onClick={(event) => {
        if (!moving || keyed) return setText(keyed ? figure(shown) : String(shown));
        swallowSecondClick(event);
        onOpenSignal?.();
      }}
      sx={{
        ...place,
        fontFamily: FIGURES,
        fontSize: 11.5,
        fontVariantNumeric: "tabular-nums",
        fontWeight: changed ? 600 : 400,
        fontStyle: moving ? "italic" : "normal",
        color: moving ? "roles.when" : "text.primary",
        cursor: "text",
        whiteSpace: "nowrap",
        overflow: "hidden",
      }}
    >
      {compact ? withUnit(shown, "") : withUnit(shown, entry.unit)}
    </PlainButton>
  );
}
