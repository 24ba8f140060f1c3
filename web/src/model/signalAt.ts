import { isSignal, type SignalValue } from "../api/document";

/** The value at a lane's path inside its step or piece. */
export function signalAt(holder: unknown, path: string): SignalValue | null {
  let here: unknown = holder;
  for (const part of path.split("/")) {
    if (Array.isArray(here)) {
      here = here.find((x) => (x as { id?: string })?.id === part) ?? here[Number(part)];
    } else if (typeof here === "object" && here !== null) {
      here = (here as Record<string, unknown>)[part];
    } else return null;
  }
  return isSignal(here) ? here : null;
}
