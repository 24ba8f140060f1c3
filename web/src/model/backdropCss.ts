import type { Schemas } from "../api/client";

const percent = (share: number) => `${Number((share * 100).toFixed(2))}%`;

/** White and grey squares, which stand for nothing. */
const SQUARES = "repeating-conic-gradient(#d9d9d9 0% 25%, #f4f4f4 0% 50%) 50% / 24px 24px";

const SIZES = { cover: "cover", whole: "contain", stretch: "100% 100%" };

/** A backdrop as a background of the page. */
export function backdropCss(told: Schemas["BackdropTold"]): string {
  const { kind, middle, angle, stops } = told;
  if (kind === "clear") return SQUARES;
  if (kind === "picture")
    return `url("${told.picture}") center / ${SIZES[told.fit]} no-repeat ${stops[0].colour}`;
  if (stops.length === 1) return stops[0].colour;
  const colours = stops.map(({ at, colour }) => `${colour} ${percent(at)}`).join(", ");
  // The page counts angles clockwise, from upwards.
  if (kind === "linear") return `linear-gradient(${90 - angle}deg, ${colours})`;
  return `radial-gradient(circle at ${percent(middle[0])} ${percent(middle[1])}, ${colours})`;
}
