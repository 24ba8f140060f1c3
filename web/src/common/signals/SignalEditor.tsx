import MoreHoriz from "@mui/icons-material/MoreHoriz";
import { Box, Button, IconButton, Menu, MenuItem, Select, Typography } from "@mui/material";
import { useState } from "react";
import type { Lane, StudyState, ValueEntry } from "../../api/client";
import { isSignal, loopOf, type DocValue, type SignalValue, documentOf } from "../../api/document";
import { useCatalogue } from "../../api/queries";
import { useInterface } from "../store/store";
import { useChange } from "../useStep";
import { useTriedSignal } from "../useTriedSignal";
import { StepPlace } from "../values/stepPlace";
import { BeyondContext, type Beyond } from "../values/beyond";
import { mirrored } from "../../model/keyEdits";
import { changeKind } from "../../model/signals";
import { noteStilled } from "../../model/stilled";
import { PerElementEditor } from "./PerElementEditor";
import { RateKeys, type RateKey } from "./RateKeys";
import { SignalPlot } from "./SignalPlot";
import { ValueList } from "../values/ValueList";

interface Props {
  state: StudyState;
  piece: string;
  step: string;
  base: string;
  lane: Lane;
}

/** One signal: its kind, its values, and its curve over the loop. */
export function SignalEditor(props: Props) {
  const { given } = props.lane;
  return isSignal(given) ? <OneSignal {...props} stored={given} /> : null;
}

/** What is a value of what moves: it has that value's unit, and a ruler around its range. */
const OF_THE_VALUE = new Set(["low", "high", "value", "start", "offset"]);

function OneSignal({
  state,
  piece,
  step,
  base,
  lane: known,
  stored,
}: Props & { stored: SignalValue }) {
  const catalogue = useCatalogue().data;
  const frame = useInterface((s) => s.frame);
  const change = useChange(state.id, base);
  const { signal, lane } = useTriedSignal(state.id, `${base}/${known.path}`, known, stored);
  const entry = catalogue?.signals.find((d) => d.key === signal.signal);
  if (!entry || !catalogue) return null;
  const { frames, rate } = loopOf(documentOf(state));
  const share = (frame % frames) / frames;
  const now = lane.samples[Math.round(share * (lane.samples.length - 1))] ?? 0;
  const low = Math.min(...lane.samples);
  const high = Math.max(...lane.samples);
  const reach = Math.max(Math.abs(low), Math.abs(high), high - low, 0.01);
  const put = (next: SignalValue | number, label: string) => change.store(lane.path, next, label);
  const live = (next: SignalValue) => change.live(lane.path, next as DocValue);
  const values = Object.fromEntries(
    Object.entries(entry.values).map(([name, value]): [string, ValueEntry] => [
      name,
      OF_THE_VALUE.has(name)
        ? { ...value, unit: lane.unit, soft: [low - reach, high + reach], moves: false }
        : { ...value, moves: false },
    ]),
  );
  const numbers = Object.fromEntries(
    Object.entries(values).filter(([, v]) => v.kind === "number" || v.kind === "whole"),
  );
  /** A cycle has whole ones; a run goes on for as many as are wanted, and leaves the loop open. */
  const beyond: Beyond = (name, typed) =>
    signal.signal === "cycle" && name === "cycles" && typed > 0 && !Number.isInteger(typed)
      ? {
          label: `Run ${typed} instead`,
          run: () =>
            put(
              { ...changeKind(signal, "run", frames, now), rate: runRate(signal, typed) },
              `${lane.label}: run`,
            ),
        }
      : undefined;
  const rates = (signal.rates ?? []) as RateKey[];
  // Where its rate changes, the one rate does not count.
  const shown = rates.length
    ? Object.fromEntries(Object.entries(values).filter(([name]) => name !== "rate"))
    : values;
  return (
    <Box sx={{ mb: 1.5 }} data-signal={lane.path}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.75 }}>
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
          {catalogue.signals.map((d) => (
            <MenuItem key={d.key} value={d.key}>
              {d.title.toLowerCase()}
            </MenuItem>
          ))}
        </Select>
        <SignalMenu
          address={`${base}/${lane.path}`}
          lane={lane}
          signal={signal}
          now={now}
          frames={frames}
          put={put}
        />
      </Box>
      <SignalPlot lane={lane} share={share} />
      <StepPlace.Provider value={{ study: state.id, piece, step, signal }}>
        <BeyondContext.Provider value={beyond}>
          <ValueList
            entries={shown}
            given={
              // What is being written is the field's own until it is stored.
              ("text" in stored ? { ...signal, text: stored.text } : signal) as unknown as Record<
                string,
                DocValue
              >
            }
            lanes={[]}
            path=""
            tone="roles.when"
            frames={frames}
            rate={rate}
            live={(name, value) => live({ ...signal, [name]: value })}
            store={(name, value, label) => put({ ...signal, [name]: value }, label)}
          />
        </BeyondContext.Provider>
        {signal.signal === "run" && (
          <RateKeys
            rates={rates}
            rate={Number(signal.rate ?? 1)}
            frame={frame}
            put={(next, label) => put({ ...signal, rates: next }, label)}
          />
        )}
        {signal.signal === "keys" && (
          <Typography variant="caption" color="textSecondary">
            {signal.keys?.length === 1 ? "1 key" : `${signal.keys?.length ?? 0} keys`}, in the lane
            below: double-click adds one, drag moves it, Delete removes it.
          </Typography>
        )}
        <PerElementEditor
          lane={lane}
          signal={signal}
          numbers={numbers}
          frames={frames}
          rate={rate}
          live={live}
          put={put}
        />
      </StepPlace.Provider>
    </Box>
  );
}

/** How far it gets in one loop by so many cycles. */
function runRate(signal: SignalValue, cycles: number): number {
  const span = Number(signal.high ?? 1) - Number(signal.low ?? 0);
  return Number((cycles * span).toPrecision(6));
}

function SignalMenu(props: {
  address: string;
  lane: Lane;
  signal: SignalValue;
  now: number;
  frames: number;
  put: (next: SignalValue | number, label: string) => void;
}) {
  const { address, lane, signal, now, frames, put } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const copied = useInterface((s) => s.copiedValue?.value);
  const set = useInterface((s) => s.set);
  const name = lane.label.toLowerCase();
  const act = (run: () => void) => () => {
    setAnchor(null);
    run();
  };
  const { keys } = signal;
  return (
    <>
      <Button
        onClick={() => {
          noteStilled(address, signal);
          put(Number(now.toPrecision(6)), `Still ${name}`);
        }}
      >
        Still it
      </Button>
      <IconButton
        aria-label={`More for the signal of ${lane.label}`}
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <MoreHoriz sx={{ fontSize: 17 }} />
      </IconButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem
          onClick={act(() =>
            set({
              copiedValue: { address, label: lane.label, value: signal as DocValue, moves: true },
            }),
          )}
        >
          Copy the signal
        </MenuItem>
        <MenuItem
          disabled={!isSignal(copied)}
          onClick={act(() => isSignal(copied) && put(copied, `Paste a signal on ${name}`))}
        >
          Paste a signal
        </MenuItem>
        <MenuItem
          disabled={!keys}
          onClick={act(
            () => keys && put({ ...signal, keys: mirrored(keys, frames) }, "Mirror in time"),
          )}
        >
          Mirror the keys in time
        </MenuItem>
      </Menu>
    </>
  );
}
