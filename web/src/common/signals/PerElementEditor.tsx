import { Box, Button, Typography } from "@mui/material";
import type { Lane, ValueEntry } from "../../api/client";
import type { DocValue, SignalValue } from "../../api/document";
import { useCatalogue } from "../../api/queries";
import { ValueList } from "../values/ValueList";

interface Props {
  lane: Lane;
  signal: SignalValue;
  /** The signal's own numbers, which may run from a first to a last element. */
  numbers: Record<string, ValueEntry>;
  frames: number;
  rate: number;
  live: (signal: SignalValue) => void;
  put: (signal: SignalValue, label: string) => void;
}

type Part = Record<string, DocValue>;

const ALL: Record<string, string> = {
  factor_of_all: "All of it ×",
  offset_of_all: "All of it +",
};

/** How a signal differs from element to element: later, or with other numbers. */
export function PerElementEditor({ lane, signal, numbers, frames, rate, live, put }: Props) {
  const catalogue = useCatalogue().data;
  if (!catalogue || !lane.each) return null;
  const stagger = (signal.stagger ?? null) as Part | null;
  const spread = (signal.spread ?? null) as (Part & { to?: Record<string, number> }) | null;
  const shared = { lanes: [], path: "", tone: "roles.when", frames, rate };
  const set = (name: "stagger" | "spread", value: unknown, label: string) =>
    put({ ...signal, [name]: value }, label);
  const still = (entries: Record<string, ValueEntry>) =>
    Object.fromEntries(Object.entries(entries).map(([k, v]) => [k, { ...v, moves: false }]));
  const free = (name: string): ValueEntry => ({
    ...Object.values(numbers)[0],
    ...catalogue.stagger_values.delay,
    default: name === "factor_of_all" ? 1 : 0,
    label: ALL[name],
    help: "At the last element.",
    unit: name === "factor_of_all" ? "×" : lane.unit,
    soft: [-2, 2],
    moves: false,
  });
  const ends = {
    ...numbers,
    ...Object.fromEntries(Object.keys(ALL).map((n) => [n, free(n)])),
  };
  return (
    <Box sx={{ mt: 0.5 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
          Over the elements
        </Typography>
        <Button
          aria-pressed={stagger !== null}
          onClick={() => set("stagger", stagger ? null : { delay: 0.5 }, "Stagger")}
          sx={{ py: 0, color: stagger ? "roles.when" : "text.secondary" }}
        >
          {stagger ? "− stagger" : "+ stagger"}
        </Button>
        <Button
          aria-pressed={spread !== null}
          onClick={() => set("spread", spread ? null : { to: {} }, "Spread over elements")}
          sx={{ py: 0, color: spread ? "roles.when" : "text.secondary" }}
        >
          {spread ? "− spread" : "+ spread"}
        </Button>
      </Box>
      {stagger && (
        <Box sx={{ pl: 1, borderLeft: "2px solid", borderColor: "divider", mb: 0.75 }}>
          <ValueList
            {...shared}
            entries={still(catalogue.stagger_values)}
            given={stagger}
            live={(n, v) => live({ ...signal, stagger: { ...stagger, [n]: v } })}
            store={(n, v, label) => set("stagger", { ...stagger, [n]: v }, label)}
          />
        </Box>
      )}
      {spread && (
        <Box sx={{ pl: 1, borderLeft: "2px solid", borderColor: "divider" }}>
          <Typography variant="caption" color="textSecondary">
            At the last element; rates become whole cycles
          </Typography>
          <ValueList
            {...shared}
            entries={still(ends)}
            given={{ ...(signal as unknown as Part), ...(spread.to as unknown as Part) }}
            live={(n, v) =>
              live({ ...signal, spread: { ...spread, to: { ...spread.to, [n]: v } } })
            }
            store={(n, v, label) =>
              set("spread", { ...spread, to: { ...spread.to, [n]: v } }, `${label}, last`)
            }
          />
          <ValueList
            {...shared}
            entries={still(catalogue.spread_values)}
            given={spread}
            live={(n, v) => live({ ...signal, spread: { ...spread, [n]: v } })}
            store={(n, v, label) => set("spread", { ...spread, [n]: v }, label)}
          />
        </Box>
      )}
    </Box>
  );
}
