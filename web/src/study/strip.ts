import { useInterface } from "../common/store/store";

/** Room that curves take while they are open, and give back. */
const ROOM_FOR_CURVES = 340;

/** Pixels that the time strip is high. */
export function useStripHeight(): number {
  const own = useInterface((s) => s.sizes.strip);
  const curves = useInterface((s) => s.curve !== null);
  return curves ? Math.max(own, ROOM_FOR_CURVES) : own;
}
