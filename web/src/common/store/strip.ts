import type { DocValue, KeyPoint } from "../../api/document";
import type { Slice } from "./slice";

export interface KeyRef {
  path: string;
  index: number;
}

/** What is chosen and copied in the time strip. */
export interface Strip {
  key: KeyRef | null;
  /** Path of the lane that is open as a curve. */
  curve: string | null;
  copiedKey: { value: number; ease?: "linear" | "smooth" | "held" } | null;
  copiedKeys: { keys: KeyPoint[] } | null;
  /** A value that was copied, with its signal. */
  copiedValue: { address: string; label: string; value: DocValue; moves: boolean } | null;
}

function closed() {
  return { key: null, curve: null };
}

export const strip: Slice<Strip, keyof ReturnType<typeof closed>> = {
  create: () => ({ ...closed(), copiedKey: null, copiedKeys: null, copiedValue: null }),
  perStudy: closed,
};
