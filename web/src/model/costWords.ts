/** What a step took, in the width of a row: "0.4 ms", "58 ms", "1.2 s"; "kept" where nothing was
 * computed. */
export function costWords({ ms, reused }: { ms: number; reused: boolean }): string {
  if (reused) return "kept";
  // Rounded first, so that 9.96 is 10 and not 10.0.
  const tenths = Math.round(ms * 10) / 10;
  if (ms >= 999.5) return `${(ms / 1000).toFixed(1)} s`;
  return `${tenths < 10 ? tenths.toFixed(1) : Math.round(ms)} ms`;
}
