import type { CatalogueEntry, Lane, Operation } from "../api/client";
import type { DocValue } from "../api/document";
import { useInterface } from "../common/store/store";
import { laneValue } from "../model/lanes";
import { keepSignals } from "./keepSignals";

export type Triple = [number, number, number];

/** Values that stand on the stage, as they are now, and ways to drag them. */
export interface Held {
  /** A value as the document has it, or its default. */
  given: (name: string) => DocValue;
  /** The value at this frame, whether it stands still or moves. */
  number: (name: string) => number;
  triple: (name: string) => Triple;
  /** Change values while dragging, and store them when the drag ends. */
  change: (values: Record<string, DocValue>) => void;
  finish: () => void;
}

interface Holding {
  /** Where the values are in the document. */
  path: string;
  /** The same as lanes name it. */
  prefix: string;
  holder: Record<string, DocValue>;
  entries: CatalogueEntry["values"];
  lanes: Lane[];
  live: Operation[];
  frame: number;
  frames: number;
  store: (operations: Operation[]) => void;
}

export function heldValues(holding: Holding): Held {
  const { path, prefix, holder, entries, lanes, frame, frames } = holding;
  // What is being dragged and not stored yet: the handle follows the pointer.
  const pending = new Map(
    holding.live.flatMap((o) => (o.do === "set" ? [[o.path, o.value] as const] : [])),
  );
  const given = (name: string) =>
    (pending.get(`${path}/${name}`) as DocValue | undefined) ??
    holder[name] ??
    (entries[name]?.default as DocValue);
  const now = (value: DocValue, name: string) =>
    typeof value === "number"
      ? value
      : (laneValue(
          lanes.find((l) => l.path === `${prefix}/${name}`),
          frame,
          frames,
        ) ?? 0);
  return {
    given,
    number: (name) => now(given(name), name),
    triple: (name) => (given(name) as DocValue[]).map((v, k) => now(v, `${name}/${k}`)) as Triple,
    change: (values) =>
      useInterface.getState().set({
        dragging: true,
        live: Object.entries(values).flatMap(([name, dragged]) => {
          const value = keepSignals(given(name), dragged);
          return value === null
            ? []
            : [{ do: "set" as const, path: `${path}/${name}`, value: value as never }];
        }),
      }),
    finish: () => {
      const { live, set } = useInterface.getState();
      set({ dragging: false });
      if (live.length) holding.store(live);
    },
  };
}
