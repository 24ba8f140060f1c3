import { tickStep } from "d3-array";

/** The 1, 2 or 5 times a power of ten that is nearest to a step by ratio; 0.1 where there is none. */
export function roundStep(step: number): number {
  return step > 0 && Number.isFinite(step) ? tickStep(0, step, 1) : 0.1;
}
