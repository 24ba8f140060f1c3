import { createContext } from "react";

/**
 * What else could be meant by a number that a value cannot take, as an action; nothing where there
 * is no such thing.
 */
export type Beyond = (
  name: string,
  typed: number,
) => { label: string; run: () => void } | undefined;

export const BeyondContext = createContext<Beyond>(() => undefined);
