import { isMovingColour, type DocValue, type MovingColour } from "../api/document";

/** A colour that begins to move: from what it is to a lighter one and back in a loop; one that has its
 * colours already goes through these. */
export function startMovingColour(value: DocValue): MovingColour {
  const at = { signal: "cycle", shape: "sine", cycles: 1, low: 0, high: 1 };
  if (isMovingColour(value)) return { ...value, at };
  const colour = String(value);
  const stops = [
    { at: 0, colour },
    { at: 1, colour: lighter(colour) },
  ];
  return { gradient: { stops, join: "smooth", mix: "perceptual" }, at };
}

/** Half way to white; of what is nearly white, half way to black. */
function lighter(colour: string): string {
  const parts = [1, 3, 5].map((k) => parseInt(colour.slice(k, k + 2), 16));
  const to = Math.min(...parts) > 200 ? 0 : 255;
  const mixed = parts.map((v) => Math.round((v + to) / 2));
  return `#${mixed.map((v) => v.toString(16).padStart(2, "0")).join("")}`;
}
