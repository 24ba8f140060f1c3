import { Box, MenuItem, Select, Switch, TextField, Tooltip, Typography } from "@mui/material";
import { useState, type MouseEvent } from "react";
import type { Lane, ValueEntry } from "../api/client";
import { isPair, isSignal, type DocValue, type Scalar, type SignalValue } from "../api/document";
import { useInterface } from "../state/store";
import { AddressCell } from "./AddressCell";
import { CurveCell } from "./CurveCell";
import { FormulaCell } from "./FormulaCell";
import { GradientPicker } from "./GradientPicker";
import { PieceCell } from "./PieceCell";
import { PathsCell } from "./PathsCell";
import { PictureCell } from "./PictureCell";
import { ActionMenu } from "../recipe/ActionMenu";
import { withKey } from "./keyed";
import { laneValue } from "./lanes";
import { PickedCell } from "./PickedCell";
import { SoundCell } from "./SoundCell";
import { StrokesCell } from "./StrokesCell";
import { Ruler } from "./Ruler";
import { ValueName } from "./ValueName";
import { startMoving } from "./signals";
import { beforeStill } from "./stilled";

export interface ValueProps {
  name: string;
  entry: ValueEntry;
  value: DocValue | undefined;
  /** Lanes of this value's components, by path inside the step. */
  lanes: Lane[];
  path: string;
  /** Of the value in the document, where it stands there by itself. */
  address?: string;
  tone: string;
  frames: number;
  rate: number;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
  openSignal?: () => void;
}

const ROW = {
  display: "grid",
  gridTemplateColumns: "84px 1fr",
  alignItems: "center",
  minHeight: 27,
  columnGap: 1,
};

const TALL = { ...ROW, alignItems: "start", "& > :first-of-type": { pt: 1 } };

const TALL_KINDS = new Set(["formula", "paths", "curve"]);
/** What has controls of its own, and says itself what it is. */
const WIDE_KINDS = new Set(["picked", "strokes"]);

/** One declared value, drawn by its kind. */
export function ValueRow(props: ValueProps) {
  const { entry, name } = props;
  const label = (
    <ValueName
      entry={entry}
      address={props.address}
      value={props.value ?? (entry.default as DocValue)}
      lanes={props.lanes}
      path={props.path}
      openSignal={props.openSignal}
    />
  );
  if (entry.kind === "vector" || entry.kind === "direction") {
    return (
      <Box sx={ROW} data-value={name}>
        {label}
        <VectorCells {...props} />
      </Box>
    );
  }
  if (WIDE_KINDS.has(entry.kind)) {
    return (
      <Box data-value={name}>
        <Cell {...props} />
      </Box>
    );
  }
  return (
    <Box sx={TALL_KINDS.has(entry.kind) ? TALL : ROW} data-value={name}>
      {label}
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0 }}>
        <Cell {...props} />
      </Box>
    </Box>
  );
}

function Cell(props: ValueProps) {
  const { entry, store, name } = props;
  const value = props.value ?? (entry.default as DocValue);
  const text = String(value);
  if (entry.kind === "choice" && name === "gradient") {
    return <GradientPicker value={text} label={entry.label} pick={(v) => store(v)} />;
  }
  if (entry.kind === "choice") {
    return (
      <Select
        value={text}
        onChange={(e) => store(e.target.value)}
        inputProps={{ "aria-label": entry.label }}
        sx={{ maxWidth: 210 }}
      >
        {entry.options.map((o) => (
          <MenuItem key={o.key} value={o.key}>
            {o.label}
          </MenuItem>
        ))}
      </Select>
    );
  }
  if (entry.kind === "switch") {
    return (
      <Switch
        size="small"
        checked={Boolean(value)}
        onChange={(e) => store(e.target.checked)}
        slotProps={{ input: { "aria-label": entry.label } }}
      />
    );
  }
  if (entry.kind === "colour") {
    return (
      <input
        type="color"
        value={text}
        aria-label={entry.label}
        onInput={(e) => props.live(e.currentTarget.value)}
        onBlur={(e) => e.currentTarget.value !== text && store(e.currentTarget.value)}
        style={{ width: 46, height: 22, border: 0, padding: 0, background: "none" }}
      />
    );
  }
  if (entry.kind === "piece") {
    return <PieceCell value={text} label={entry.label} pick={(v) => store(v)} />;
  }
  if (entry.kind === "picture") {
    return <PictureCell value={text} label={entry.label} pick={(v) => store(v)} />;
  }
  if (entry.kind === "paths") return <PathsCell value={value} store={store} />;
  if (entry.kind === "sound") {
    return <SoundCell value={text} label={entry.label} pick={(v) => store(v)} />;
  }
  if (entry.kind === "address") {
    return <AddressCell value={text} label={entry.label} pick={(v) => store(v)} />;
  }
  if (entry.kind === "curve") {
    return <CurveCell label={entry.label} value={value} live={props.live} store={store} />;
  }
  if (entry.kind === "picked") return <PickedCell value={value} store={store} />;
  if (entry.kind === "strokes") return <StrokesCell value={value} store={store} />;
  if (entry.kind === "formula") return <FormulaCell {...props} key={text} text={text} />;
  if (entry.kind === "text" || entry.kind === "asset") {
    return (
      <TextCell
        key={text}
        label={entry.label}
        text={text}
        store={store}
        fixed={entry.kind === "asset"}
      />
    );
  }
  return <NumberCell {...props} scalar={value as Scalar} />;
}

function TextCell(props: {
  label: string;
  text: string;
  fixed: boolean;
  store: (v: string) => void;
}) {
  const [text, setText] = useState(props.text);
  if (props.fixed) {
    return (
      <Typography variant="caption" color="textSecondary">
        {props.text ? `stored file ${props.text.slice(0, 8)}` : "none; drop a file on the stage"}
      </Typography>
    );
  }
  return (
    <TextField
      variant="standard"
      size="small"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== props.text && props.store(text)}
      multiline
      maxRows={4}
      onKeyDown={(e) => {
        e.stopPropagation();
        // With Shift it begins another line.
        if (e.key === "Enter" && !e.shiftKey) {
          e.preventDefault();
          (e.target as HTMLElement).blur();
        }
      }}
      slotProps={{ htmlInput: { "aria-label": props.label } }}
    />
  );
}

/** A number that may move: its ruler, and the wave that makes it move. */
function NumberCell(props: ValueProps & { scalar: Scalar; compact?: boolean }) {
  const { entry, scalar, frames, rate } = props;
  const quality = useInterface((s) => s.quality);
  const pair = isPair(scalar);
  const inner: Scalar = pair ? scalar[quality] : scalar;
  const moving = isSignal(inner);
  // What stands still is not rendered at every frame of a loop that plays.
  const frame = useInterface((s) => (moving ? s.frame : 0));
  const lane = props.lanes.find((l) => l.path === props.path);
  const now = moving ? (laneValue(lane, frame, frames) ?? Number(entry.default)) : Number(inner);
  const wrap = (v: Scalar): DocValue => (pair ? { ...scalar, [quality]: v } : v);
  const changed = !moving && now !== entry.default;
  const keyed = isSignal(inner) && inner.keys !== undefined;
  const said = entry.label.toLowerCase();
  const move = () => {
    if (moving) return props.openSignal?.();
    const signal = beforeStill(props.address) ?? startMoving(now, entry);
    props.store(wrap(signal), `Move ${said}`);
  };
  const store = (v: number) => {
    if (!keyed) return props.store(wrap(v), `Set ${said}`);
    // At a whole frame, on which keys stand.
    const at = Math.round(frame) % (frames + 1);
    props.store(wrap(withKey(inner, at, v)), `Key ${said}`);
  };
  return (
    <>
      <Ruler
        entry={entry}
        label={entry.label}
        value={now}
        moving={moving}
        keyed={keyed}
        name={props.name}
        range={lane && moving ? [Math.min(...lane.samples), Math.max(...lane.samples)] : undefined}
        changed={changed}
        tone={props.tone}
        rate={rate}
        compact={props.compact}
        onLive={(v) => props.live(wrap(v))}
        onStore={store}
        onOpenSignal={props.openSignal}
      />
      {entry.moves && !props.compact && <Wave moving={moving} label={entry.label} onClick={move} />}
    </>
  );
}

export function Wave(props: {
  moving: boolean;
  label: string;
  onClick: (event: MouseEvent<HTMLElement>) => void;
}) {
  const title = props.moving ? "It moves: open its signal" : "Make it move";
  return (
    <Tooltip title={title}>
      <Box
        component="button"
        type="button"
        aria-label={`${title}: ${props.label}`}
        aria-pressed={props.moving}
        onClick={props.onClick}
        sx={{
          all: "unset",
          width: 18,
          textAlign: "center",
          cursor: "pointer",
          fontSize: 15,
          lineHeight: 1,
          color: props.moving ? "roles.when" : "text.secondary",
          opacity: props.moving ? 1 : 0.55,
          fontWeight: props.moving ? 700 : 400,
          "&:hover, &:focus-visible": { opacity: 1, color: "roles.when" },
        }}
      >
        ∿
      </Box>
    </Tooltip>
  );
}

function VectorCells(props: ValueProps) {
  const { entry, value } = props;
  const parts = (value ?? entry.default) as Scalar[];
  const put = (k: number, v: DocValue) =>
    parts.map((p, i) => (i === k ? (v as Scalar) : p)) as DocValue;
  const [asked, setAsked] = useState<{ x: number; y: number } | null>(null);
  const startOf = (k: number): SignalValue =>
    beforeStill(props.address && `${props.address}/${k}`) ??
    startMoving(Number(parts[k]), { ...one, default: (entry.default as number[])[k] });
  const before = parts.flatMap((_, k) =>
    beforeStill(props.address && `${props.address}/${k}`) ? [k] : [],
  );
  const moves = [
    ...(before.length ? [{ label: "as it moved before", which: before }] : []),
    ...parts.map((_, k) => ({ label: "xyz"[k], which: [k] })),
    { label: "all three", which: [0, 1, 2] },
  ];
  const one: ValueEntry = { ...entry, kind: "number", default: (entry.default as number[])[0] };
  return (
    <Box sx={{ display: "flex", gap: 0.75, alignItems: "center", minWidth: 0 }}>
      {parts.map((part, k) => {
        const cell = {
          ...one,
          label: `${entry.label} ${"xyz"[k]}`,
          default: (entry.default as number[])[k],
        };
        return (
          <Box
            key={k}
            sx={{ display: "flex", flex: 1, gap: 0.5, alignItems: "center", minWidth: 0 }}
          >
            <Typography variant="caption" color="textSecondary">
              {"xyz"[k]}
            </Typography>
            <NumberCell
              {...props}
              compact
              entry={cell}
              scalar={part}
              path={`${props.path}/${k}`}
              address={props.address && `${props.address}/${k}`}
              live={(v) => props.live(put(k, v))}
              store={(v, label) => props.store(put(k, v), label)}
              openSignal={props.openSignal}
            />
          </Box>
        );
      })}
      <Wave
        moving={parts.some(isSignal)}
        label={entry.label}
        onClick={(event) => {
          if (parts.some(isSignal)) return props.openSignal?.();
          const box = event.currentTarget.getBoundingClientRect();
          setAsked({ x: box.left, y: box.bottom });
        }}
      />
      <ActionMenu
        at={asked}
        close={() => setAsked(null)}
        actions={moves.map(({ label, which }) => ({
          label,
          run: () => {
            const next = parts.map((part, k) => (which.includes(k) ? startOf(k) : part));
            props.store(next as DocValue, `Move ${entry.label.toLowerCase()} ${label}`);
          },
        }))}
      />
    </Box>
  );
}
