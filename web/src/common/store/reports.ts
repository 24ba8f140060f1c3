import type { Slice } from "./slice";

/** What a step cost and did; volume : the share by which it grew, below 0 shrank, where that is told;
 * told : what the step has chosen by itself. */
export interface StepTime {
  ms: number;
  reused: boolean;
  change: string;
  counts: string;
  volume: number | null;
  told: string;
}

/** What came of the frames that were asked for. */
export interface Reports {
  stepErrors: Record<string, string>;
  stageError: string | null;
  /** Steps that take long at the moment, by their ids. */
  working: Record<string, { piece: string; share: number }>;
  times: Record<string, StepTime>;
  counts: {
    points: number;
    faces: number;
    curves: number;
    copies: number;
    shards: number;
    ms: number;
    rate: number;
  };
}

function none(): Reports {
  return {
    stepErrors: {},
    stageError: null,
    working: {},
    times: {},
    counts: { points: 0, faces: 0, curves: 0, copies: 0, shards: 0, ms: 0, rate: 0 },
  };
}

export const reports: Slice<Reports, keyof Reports> = { create: none, perStudy: none };
