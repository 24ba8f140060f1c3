import type { Schemas } from "../api/client";

/** The seam in a few words, with the figure that says why it is as it is. */
export function seamWords(
  seam: Pick<Schemas["SeamState"], "state" | "position_m" | "velocity_relative"> | undefined,
  measuring: boolean,
): string {
  if (!seam) return measuring ? "measuring the seam…" : "seam unknown";
  if (seam.state === "one way") return "one way";
  if (seam.position_m === null) return `seam ${seam.state} · counts differ`;
  const metres = seam.position_m.toFixed(3);
  // Where the places agree, it is the speed that jumps.
  const speed = seam.velocity_relative;
  if (seam.state !== "closed" && Number(metres) === 0 && speed !== null)
    return `seam ${seam.state} · speed ${(speed * 100).toFixed(0)} %`;
  return `seam ${seam.state} · ${metres} m`;
}

/** A share as a percentage, in as many digits as are worth reading. */
export function share(value: number | null | undefined): string {
  if (value == null) return "undefined";
  const percent = value * 100;
  return `${percent < 0.001 ? "0" : Number(percent.toPrecision(2))} %`;
}
