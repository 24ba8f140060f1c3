import type { CatalogueEntry, Lane, Operation, StudyState } from "../api/client";
import { isSignal, type Piece, type Scalar, type Step } from "../api/document";
import { keyedAt } from "../model/keyed";
import { laneValue } from "../model/lanes";

/** Edits that key every number of a step that was set, at a frame; what another signal moves is
 * left alone. */
export function keyedValues(
  state: StudyState,
  piece: Piece,
  step: Step,
  entry: CatalogueEntry,
  frame: number,
  frames: number,
): Operation[] {
  const words = state.motion.find((m) => m.id === piece.id)?.steps.find((w) => w.id === step.id);
  const moving = Object.fromEntries(
    Object.entries(step.values ?? {}).filter(([name]) => entry.values[name]?.moves),
  );
  return keyedNumbers(moving, words?.lanes ?? [], frame, frames).map(([name, value]) => ({
    do: "set" as const,
    path: `/pieces/${piece.id}/recipe/${step.id}/values/${name}`,
    value: value as never,
  }));
}

/** Name and new value of every number that can be keyed. */
export function keyedNumbers(
  values: Record<string, unknown>,
  lanes: Lane[],
  frame: number,
  frames: number,
): [string, unknown][] {
  const keyed = (part: unknown, path: string) => {
    if (typeof part !== "number" && !isSignal(part)) return null;
    const lane = lanes.find((l) => l.path === path);
    const now = isSignal(part) ? laneValue(lane, frame, frames) : part;
    return now === undefined ? null : keyedAt(part as Scalar, now, frame);
  };
  return Object.entries(values).flatMap(([name, value]): [string, unknown][] => {
    const path = `values/${name}`;
    if (!Array.isArray(value)) {
      const found = keyed(value, path);
      return found ? [[name, found]] : [];
    }
    if (value.length !== 3) return [];
    const parts = value.map((part: unknown, k) => keyed(part, `${path}/${k}`) ?? part);
    return parts.some((part, k) => part !== value[k]) ? [[name, parts]] : [];
  });
}
