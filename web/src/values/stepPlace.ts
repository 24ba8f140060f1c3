import { createContext } from "react";

/** Which step the values around belong to, for what the server has to be asked about. */
export const StepPlace = createContext<{ study: string; piece: string; step: string } | null>(null);
