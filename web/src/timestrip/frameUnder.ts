/** The whole frame under a place of a part that is as wide as the loop. */
export function frameUnder(x: number, left: number, width: number, frames: number): number {
  const share = width > 0 ? (x - left) / width : 0;
  return Math.min(frames - 1, Math.max(0, Math.round(share * frames)));
}
