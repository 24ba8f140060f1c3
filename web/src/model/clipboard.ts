import { type Look, type Piece, type Step, freshId } from "../api/document";

/** What was copied last, in whichever study or window of this browser. */
export type Copied =
  { kind: "step"; item: Step } | { kind: "piece"; item: Piece } | { kind: "look"; item: Look };

// With the version of documents: what was copied in an earlier one is not what a recipe takes now.
const PLACE = "zygomorph-copied-5";

export function copy(copied: Copied): void {
  localStorage.setItem(PLACE, JSON.stringify(copied));
}

/** Null where nothing was copied, or nothing that can be read. */
export function copied(): Copied | null {
  try {
    const found = JSON.parse(localStorage.getItem(PLACE) ?? "null") as Copied | null;
    return found?.item && ["step", "piece", "look"].includes(found.kind) ? found : null;
  } catch {
    return null;
  }
}

/** A copy of a step or piece under an id that is not taken. */
export function fresh<T extends Step | Piece>(item: T, prefix: string, taken: string[]): T {
  return { ...structuredClone(item), id: freshId(prefix, taken) };
}
