import { createContext } from "react";
import type { SignalValue } from "../../api/document";

/** Which step the values around belong to, for what the server has to be asked about. */
export const StepPlace = createContext<{
  study: string;
  piece: string;
  step: string;
  /** Of the step's mask, where they belong to a layer. */
  layer?: string;
  /** Where they belong to a signal: as it is now. */
  signal?: SignalValue;
} | null>(null);
