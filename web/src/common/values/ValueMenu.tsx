import type { StudyState, ValueEntry } from "../../api/client";
import { isPair, isSignal, type DocValue, type Scalar } from "../../api/document";
import { keyedAt } from "../../model/keyed";
import { startMoving } from "../../model/signals";
import { beforeStill, noteStilled } from "../../model/stilled";
import { ActionMenu, type Action } from "../ActionMenu";
import { useInterface, useParts } from "../store/store";
import { useChange } from "../useStep";
import { useSwitching } from "../useSwitching";

interface Props {
  at: { x: number; y: number } | null;
  close: () => void;
  state: StudyState;
  /** Of the value in the document. */
  address: string;
  entry: ValueEntry;
  value: DocValue;
  /** Each component at this frame; one of a number. */
  now: number[];
  openSignal?: () => void;
}

/** What can be done with a value, behind its name. */
export function ValueMenu({ at, close, state, address, entry, value, now, openSignal }: Props) {
  const { copiedValue: copied, set } = useParts("copiedValue", "set");
  const change = useChange(state.id, address.slice(0, address.lastIndexOf("/")));
  const name = address.slice(address.lastIndexOf("/") + 1);
  const said = entry.label.toLowerCase();
  const triple = entry.kind === "vector" || entry.kind === "direction";
  const parts = (triple ? value : [value]) as Scalar[];
  const put = (next: (Scalar | null)[], label: string) => {
    const whole = next.map((part, k) => part ?? parts[k]);
    change.store(name, (triple ? whole : whole[0]) as DocValue, label);
  };
  const moving = parts.some(isSignal);
  const own = (k: number) => (triple ? `${address}/${k}` : address);
  const before = [...parts.keys()].filter((k) => beforeStill(own(k)));
  const pair = parts.some(isPair);
  const number = (k: number): ValueEntry => ({
    ...entry,
    kind: "number",
    default: triple ? (entry.default as number[])[k] : entry.default,
  });
  const link = (to: string) =>
    parts.map((_, k) => ({
      signal: "link",
      to: triple && to ? `${to}/${k}` : to,
      factor: 1,
      offset: to ? 0 : now[k],
    }));
  const switching = useSwitching(state, address, entry.label);
  const { frame } = useInterface.getState();
  const here = Math.round(frame);
  const keys = parts.map((part, k) => keyedAt(part, now[k], here));
  const fits = copied && Array.isArray(copied.value) === triple && copied.address !== address;
  const movable: Action[] = [
    moving
      ? {
          label: "Still it",
          run: () => {
            parts.forEach((part, k) => isSignal(part) && noteStilled(own(k), part));
            put(
              now.map((v) => Number(v.toPrecision(6))),
              `Still ${said}`,
            );
          },
        }
      : {
          label: before.length
            ? "Move it as before"
            : triple
              ? "Make all three move"
              : "Make it move",
          off: pair,
          run: () => {
            const which = before.length ? before : [...parts.keys()];
            put(
              parts.map((_, k) =>
                which.includes(k) ? (beforeStill(own(k)) ?? startMoving(now[k], number(k))) : null,
              ),
              `Move ${said}`,
            );
            openSignal?.();
          },
        },
    {
      label: `Key it at frame ${here}`,
      off: keys.every((k) => k === null),
      run: () => put(keys, `Key ${said}`),
    },
    {
      label: "Link it to…",
      off: pair || triple,
      run: () => {
        put(link(""), `Link ${said}`);
        openSignal?.();
      },
    },
    ...(fits && copied.moves
      ? [
          {
            label: `Link it to “${copied.label}”`,
            off: pair,
            run: () => put(link(copied.address), `Link ${said} to ${copied.label}`),
          },
        ]
      : []),
  ];
  const actions: Action[] = [
    ...(entry.moves ? movable : []),
    {
      label: "Copy",
      run: () => set({ copiedValue: { address, label: entry.label, value, moves: entry.moves } }),
    },
    {
      label: moving || (copied && holdsSignal(copied.value)) ? "Paste with its signal" : "Paste",
      off: !fits || (!entry.moves && holdsSignal(copied.value)),
      run: () => copied && change.store(name, copied.value, `Paste on ${said}`),
    },
    { label: "Reset", run: () => change.store(name, entry.default, `Reset ${said}`) },
    ...switching,
  ];
  return <ActionMenu at={at} close={close} actions={actions} />;
}

function holdsSignal(value: DocValue): boolean {
  return Array.isArray(value) ? value.some(isSignal) : isSignal(value);
}
