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

/**
 * Where places on the rest shape are seen: each goes as far as the point that is nearest to it there.
 *
 * @param rest (3 P) metres
 * @param points the same points as they are seen
 */
export function asSeen(
  places: ClickedPlace[],
  rest: Float32Array,
  points: Float32Array,
): ClickedPlace[] {
  return places.map((place) => {
    const [x, y, z] = place.at;
    let best = Infinity;
    let found = 0;
    for (let p = 0; p < rest.length; p += 3) {
      const away = (rest[p] - x) ** 2 + (rest[p + 1] - y) ** 2 + (rest[p + 2] - z) ** 2;
      if (away < best) [best, found] = [away, p];
    }
    if (rest.length === 0) return place;
    return { ...place, at: place.at.map((v, k) => v + points[found + k] - rest[found + k]) };
  });
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
