/** A place that was clicked on a surface, metres in its piece. */
export interface ClickedPlace {
  at: number[];
  normal: number[];
}

/**
 * The number of the place that is nearest to the pointer, or -1 where none is near.
 *
 * @param onScreen from a place to pixels, or null where it is behind the eye
 * @param within pixels
 */
export function placeUnder(
  places: ClickedPlace[],
  pointer: [number, number],
  onScreen: (at: number[]) => [number, number] | null,
  within: number,
): number {
  let best = within;
  let found = -1;
  places.forEach(({ at }, number) => {
    const seen = onScreen(at);
    if (!seen) return;
    const away = Math.hypot(seen[0] - pointer[0], seen[1] - pointer[1]);
    if (away > best) return;
    best = away;
    found = number;
  });
  return found;
}

/** The places with one instead of another, or with one more where the number is that of none. */
export function withPlace(
  places: ClickedPlace[],
  number: number,
  place: ClickedPlace,
): ClickedPlace[] {
  return number < 0 || number >= places.length
    ? [...places, place]
    : places.map((own, k) => (k === number ? place : own));
}
