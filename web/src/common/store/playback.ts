import type { Slice } from "./slice";

export type Pace = "time" | "every";
export type PlayMode = "loop" | "once" | "both";

export interface Playback {
  frame: number;
  playing: boolean;
  pace: Pace;
  mode: PlayMode;
  /** First and last frame that play; null where all do. */
  range: [number, number] | null;
  ready: ReadonlySet<number>;
  /** Frames of which a picture is kept, which is shown at no cost. */
  pictures: ReadonlySet<number>;
  /** What holds the rate back while playing, in words; empty where nothing does. */
  bottleneck: string;
}

function atTheBeginning() {
  return {
    frame: 0,
    playing: false,
    range: null,
    ready: new Set<number>(),
    pictures: new Set<number>(),
    bottleneck: "",
  };
}

export const playback: Slice<Playback, keyof ReturnType<typeof atTheBeginning>> = {
  create: () => ({ ...atTheBeginning(), pace: "time", mode: "loop" }),
  perStudy: atTheBeginning,
};
