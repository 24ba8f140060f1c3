/** Runs of ready frames: the first of each, and the one after its last. */
export function readyRuns(ready: ReadonlySet<number>, frames: number): [number, number][] {
  const found: [number, number][] = [];
  for (let f = 0; f < frames; f++) {
    if (!ready.has(f)) continue;
    const last = found.at(-1);
    if (last && last[1] === f) last[1] = f + 1;
    else found.push([f, f + 1]);
  }
  return found;
}
