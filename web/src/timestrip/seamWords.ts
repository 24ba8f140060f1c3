import type { Schemas } from "../api/client";
import { figure } from "../model/parse";

/** The seam in a few words, with the figure that says why it is as it is. */
export function seamWords(
  seam: Pick<Schemas["SeamState"], "state" | "position_m" | "velocity_relative"> | undefined,
  measuring: boolean,
): string {
  if (!seam) return measuring ? "measuring the seam…" : "seam unknown";
  if (seam.state === "one way") return "one way";
  if (seam.position_m === null) return `seam ${seam.state} · nothing at one end`;
  const metres = seam.position_m.toFixed(3);
  // Where the places agree, it is the speed that jumps.
  const speed = seam.velocity_relative;
  if (seam.state !== "closed" && Number(metres) === 0 && speed !== null)
    return `seam ${seam.state} · speed ${(speed * 100).toFixed(0)} %`;
  return `seam ${seam.state} · ${metres} m`;
}

/** The same as a sentence. */
export function seamSentence(
  seam: Pick<Schemas["SeamState"], "position_m" | "velocity_relative" | "note"> | undefined,
  name: string,
  oneWay: boolean,
): string {
  if (oneWay) return "It plays from its first frame to its last, and need not come back";
  if (!seam) return "How far the end of the loop is from its beginning";
  const { position_m: metres, velocity_relative: speed, note } = seam;
  const apart = metres === null ? "empty, or begins so" : `${figure(metres)} m from its beginning`;
  const faster = speed == null ? "cannot be compared" : `differs by ${share(speed)}`;
  return `The end of ${name} is ${apart}; its speed ${faster}. ${note}`.trim();
}

/** A share as a percentage, in as many digits as are worth reading. */
export function share(value: number | null | undefined): string {
  if (value == null) return "undefined";
  const percent = value * 100;
  return `${percent < 0.001 ? "0" : Number(percent.toPrecision(2))} %`;
}
