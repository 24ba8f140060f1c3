import type { FrameHeader } from "../api/frame";

/**
 * A cloth of a million loose points is more than the wire and the graphics card carry many times a
 * second; while it moves, only every so many of its points are asked for.
 */
const DRAWN_WHILE_MOVING = 250_000;

const loose = new Map<string, number>();

/** Note how many loose points a piece has. */
export function noteLoose(study: string, piece: string, header: FrameHeader) {
  const alone = header.faces === 0 && header.curves === 0;
  loose.set(`${study}/${piece}`, alone ? header.points : 0);
}

/** Of how many points one is asked for. */
export function everyOf(study: string, piece: string, moving: boolean): number {
  if (!moving) return 1;
  return Math.max(1, Math.ceil((loose.get(`${study}/${piece}`) ?? 0) / DRAWN_WHILE_MOVING));
}

/** How much larger each point is drawn where some are left out, so that the gaps stay small. */
export function thinnedSize({ points, drawn }: FrameHeader): number {
  return drawn > 0 && drawn < points ? Math.sqrt(points / drawn) : 1;
}
