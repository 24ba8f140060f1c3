import { createContext } from "react";

/** Which step the values around belong to, for what the server has to be asked about. */
export const StepPlace = createContext<{
  study: string;
  piece: string;
  step: string;
  /** Of the step's mask, where they belong to a layer. */
  layer?: string;
} | null>(null);
