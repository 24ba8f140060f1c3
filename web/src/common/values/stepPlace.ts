import { createContext } from "react";
import type { SignalValue } from "../../api/document";

/** Which step the values around belong to, for what the server has to be asked about; "" where they
 * belong to a look. */
export const StepPlace = createContext<{
  study: string;
  piece: string;
  step: string;
  /** Of the step's mask, where they belong to a layer. */
  layer?: string;
  /** What is picked, where elements are. */
  of?: string;
  /** Where they belong to a signal: as it is now. */
  signal?: SignalValue;
} | null>(null);
