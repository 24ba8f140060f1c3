import { SHEET_WIDTH } from "../common/SideSheet";
import { useInterface } from "../common/store/store";

/** Pixels at the right of the stage that its picture leaves free: the whole frame of the camera is to
 * be seen beside an open sheet. */
export function useRoom(): number {
  return useInterface((s) =>
    s.view.name === "camera" && !s.four && s.sheet !== null ? SHEET_WIDTH : 0,
  );
}
