import { Box, Button, MenuItem, Select, Typography, useTheme } from "@mui/material";
import type { Lane, StepWords, StudyState } from "../api/client";
import {
  isSignal,
  loopOf,
  type DocValue,
  type Piece,
  type SignalValue,
  type Step,
} from "../api/document";
import { documentOf, useCatalogue } from "../api/queries";
import { useInterface } from "../state/store";
import { withUnit } from "../values/parse";
import { changeKind } from "../values/signals";
import { curve } from "./Sparkline";
import { ValueList } from "./ValueList";
import { useChange } from "./useStep";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
}

/** The value at a lane's path inside its step or piece. */
export function signalAt(holder: unknown, path: string): SignalValue | null {
  let here: unknown = holder;
  for (const part of path.split("/")) {
    if (Array.isArray(here)) {
      here = here.find((x) => (x as { id?: string })?.id === part) ?? here[Number(part)];
    } else if (typeof here === "object" && here !== null) {
      here = (here as Record<string, unknown>)[part];
    } else return null;
  }
  return isSignal(here) ? here : null;
}

/** The signals of a step. */
export function When({ state, piece, step, words }: Props) {
  if (words.lanes.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
        {words.by_time
          ? "It moves by itself, as What says; the wave ∿ beside a value makes that move too."
          : "Nothing moves here. The wave ∿ beside a value makes it move."}
      </Typography>
    );
  }
  const base = `/pieces/${piece.id}/recipe/${step.id}`;
  return (
    <Box>
      {words.lanes.map((lane) => (
        <SignalEditor key={lane.path} state={state} base={base} holder={step} lane={lane} />
      ))}
    </Box>
  );
}

/** One signal: its kind, its values, and its curve over the loop. */
export function SignalEditor(props: {
  state: StudyState;
  base: string;
  holder: unknown;
  lane: Lane;
}) {
  const { state, base, holder, lane } = props;
  const catalogue = useCatalogue().data;
  const frame = useInterface((s) => s.frame);
  const { palette } = useTheme();
  const change = useChange(state.id, base);
  const signal = signalAt(holder, lane.path);
  const entry = catalogue?.signals.find((d) => d.key === signal?.signal);
  if (!signal || !entry || !catalogue) return null;
  const { frames, rate } = loopOf(documentOf(state));
  const at = ((frame % frames) / frames) * (lane.samples.length - 1);
  const now = lane.samples[Math.round(at)] ?? 0;
  const low = Math.min(...lane.samples);
  const high = Math.max(...lane.samples);
  const reach = Math.max(Math.abs(low), Math.abs(high), high - low, 0.01);
  const put = (next: SignalValue | number, label: string) => change.store(lane.path, next, label);
  // Low and high are values of what moves: they have its unit, and a ruler around its range.
  const values = Object.fromEntries(
    Object.entries(entry.values).map(([name, value]) =>
      ["low", "high", "value"].includes(name)
        ? [
            name,
            {
              ...value,
              unit: lane.unit,
              soft: [low - reach, high + reach] as [number, number],
              moves: false,
            },
          ]
        : [name, { ...value, moves: false }],
    ),
  );
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Typography variant="body2" sx={{ fontWeight: 600, flex: 1 }} noWrap>
          {lane.label}
        </Typography>
        <Select
          value={signal.signal}
          onChange={(e) =>
            put(changeKind(signal, e.target.value, frames, now), `${lane.label}: ${e.target.value}`)
          }
          inputProps={{ "aria-label": `Signal of ${lane.label}` }}
        >
          {catalogue.signals
            .filter((d) => d.key !== "hold")
            .map((d) => (
              <MenuItem key={d.key} value={d.key}>
                {d.title.toLowerCase()}
              </MenuItem>
            ))}
        </Select>
        <Button onClick={() => put(Number(now.toFixed(4)), `Still ${lane.label.toLowerCase()}`)}>
          Still it
        </Button>
      </Box>
      <Box
        component="svg"
        viewBox="0 0 260 44"
        preserveAspectRatio="none"
        role="img"
        aria-label={`${lane.label} over the loop, from ${withUnit(low, lane.unit)} to ${withUnit(high, lane.unit)}`}
        sx={{ width: "100%", height: 44, display: "block", bgcolor: "background.default", my: 0.5 }}
      >
        <path
          d={curve(lane.samples, 260, 44, 5)}
          fill="none"
          stroke={palette.roles.when}
          strokeWidth={1.6}
          vectorEffect="non-scaling-stroke"
        />
        <line
          x1={((frame % frames) / frames) * 260}
          x2={((frame % frames) / frames) * 260}
          y1={0}
          y2={44}
          stroke={palette.text.primary}
          vectorEffect="non-scaling-stroke"
        />
      </Box>
      <ValueList
        entries={values}
        given={signal as unknown as Record<string, DocValue>}
        lanes={[]}
        path=""
        tone="roles.when"
        frames={frames}
        rate={rate}
        live={(name, value) => change.live(lane.path, { ...signal, [name]: value } as DocValue)}
        store={(name, value, label) => put({ ...signal, [name]: value }, label)}
      />
      {signal.signal === "keys" && (
        <Typography variant="caption" color="textSecondary">
          {signal.keys?.length ?? 0} keys, in the lane below: double-click adds one, drag moves it,
          Delete removes it.
        </Typography>
      )}
    </Box>
  );
}
