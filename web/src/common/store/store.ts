import { create } from "zustand";
import { persist } from "zustand/middleware";
import { useShallow } from "zustand/react/shallow";
import { gesture, type Gesture } from "./gesture";
import { messages, type Messages } from "./messages";
import { playback, type Playback } from "./playback";
import { keptOf, preferences, type Preferences } from "./preferences";
import { remembered } from "./remembered";
import { reports, type Reports } from "./reports";
import { chosen, selection, type Selection } from "./selection";
import { strip, type Strip } from "./strip";
import { viewing, type Viewing } from "./viewing";

export type { Brush, Tool } from "./gesture";
export type { Notice } from "./messages";
export type { Pace, PlayMode } from "./playback";
export type { Ribbon } from "./selection";
export type { KeyRef } from "./strip";
export type { DrawMode, Guide, ShardsShown, View } from "./viewing";

const SLICES = {
  preferences,
  selection,
  playback,
  viewing,
  gesture,
  reports,
  strip,
  messages,
};

interface Whole {
  set: (part: Partial<State>) => void;
  /** Begin with a study, as it was left where that is known. */
  open: (before: Partial<State>) => void;
}

export type State = Preferences &
  Selection &
  Playback &
  Viewing &
  Gesture &
  Reports &
  Strip &
  Messages &
  Whole;

/** What is so when a study is opened, whatever was done in another one. */
function opened(): Partial<State> {
  return Object.assign({}, ...Object.values(SLICES).map((slice) => slice.perStudy()));
}

/** The state of the screen, in slices of one subject each. */
export const useInterface = create<State>()(
  persist(
    (set): State => ({
      ...preferences.create(set),
      ...selection.create(set),
      ...playback.create(set),
      ...viewing.create(set),
      ...gesture.create(set),
      ...reports.create(set),
      ...strip.create(set),
      ...messages.create(set),
      set: (part) => set({ ...part, ...chosen(part) }),
      open: (before) => set({ ...opened(), ...before }),
    }),
    {
      name: "zygomorph-preferences",
      version: 1,
      storage: remembered(keptOf(preferences.create(() => undefined))),
      partialize: keptOf,
    },
  ),
);

/** Some parts of the interface's state; nothing is drawn again when another part changes. */
export function useParts<K extends keyof State>(...names: K[]): Pick<State, K> {
  return useInterface(
    useShallow((s) => Object.fromEntries(names.map((n) => [n, s[n]])) as Pick<State, K>),
  );
}
