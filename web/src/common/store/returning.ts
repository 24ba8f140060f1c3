import type { Ribbon } from "./store";

/** Where somebody was in a study, to come back to after a reload of the window. */
export interface Returning {
  piece: string | null;
  step: string | null;
  ribbon: Ribbon;
  layer: string | null;
  frame: number;
  four: boolean;
  /** Of the camera, metres. */
  eye: { position: [number, number, number]; target: [number, number, number] };
}

const RIBBONS = ["what", "where", "when"];

function keyOf(study: string): string {
  return `zygomorph-study-${study}`;
}

function isTriple(value: unknown): value is [number, number, number] {
  return Array.isArray(value) && value.length === 3 && value.every(Number.isFinite);
}

/** What was noted of a study in this window; what cannot be read is left out. */
export function returning(study: string): Partial<Returning> {
  let read: Partial<Returning>;
  try {
    read = JSON.parse(sessionStorage.getItem(keyOf(study)) ?? "{}") as Partial<Returning>;
  } catch {
    return {};
  }
  const found: Partial<Returning> = {};
  for (const name of ["piece", "step", "layer"] as const)
    if (typeof read[name] === "string") found[name] = read[name];
  if (RIBBONS.includes(read.ribbon ?? "")) found.ribbon = read.ribbon;
  if (Number.isFinite(read.frame)) found.frame = read.frame;
  if (typeof read.four === "boolean") found.four = read.four;
  if (isTriple(read.eye?.position) && isTriple(read.eye?.target)) found.eye = read.eye;
  return found;
}

export function noteReturning(study: string, part: Partial<Returning>): void {
  try {
    const known = JSON.parse(sessionStorage.getItem(keyOf(study)) ?? "{}") as object;
    sessionStorage.setItem(keyOf(study), JSON.stringify({ ...known, ...part }));
  } catch {
    // A browser that keeps nothing forgets it.
  }
}
