/**
 * The newer of what has been asked for and what is known by now: an edit may have been answered
 * while the older state was still on its way.
 */
export function newest<T extends { revision: number }>(loaded: T, known: T | undefined): T {
  return known && known.revision > loaded.revision ? known : loaded;
}
