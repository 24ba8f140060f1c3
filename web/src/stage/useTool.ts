import { useEffect } from "react";
import { useParts, type Tool } from "../common/store/store";

/**
 * Whether a tool of the stage is in use. While it is, the foot of the stage says how it is used, and
 * Escape puts it away.
 *
 * @param begin called when it is taken up
 */
export function useTool(name: Tool, says: string, begin?: () => void): boolean {
  const { tool, set } = useParts("tool", "set");
  const active = tool === name;
  useEffect(() => {
    if (!active) return;
    set({ toolSays: says });
    begin?.();
    const end = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      set({ tool: null });
    };
    window.addEventListener("keydown", end, { capture: true });
    return () => {
      window.removeEventListener("keydown", end, { capture: true });
      set({ toolSays: "" });
    };
    // What it begins with is that of the moment at which it is taken up.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [active, says, set]);
  return active;
}
