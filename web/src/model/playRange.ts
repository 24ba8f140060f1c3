/** The frames that play: those of a range, as far as the loop has them, or all. */
export function playRange(
  range: [number, number] | null,
  frames: number,
): { first: number; count: number } {
  if (!range) return { first: 0, count: frames };
  const first = Math.min(Math.max(0, range[0]), frames - 1);
  const last = Math.min(Math.max(first, range[1]), frames - 1);
  return { first, count: last - first + 1 };
}

/** The frame that is shown some frames after another within a range that goes round. */
export function after(
  frame: number,
  by: number,
  { first, count }: { first: number; count: number },
) {
  const place = Math.min(Math.max(0, Math.floor(frame) - first), count - 1);
  return first + ((((place + by) % count) + count) % count);
}
