import { useMediaQuery } from "@mui/material";

/** Whether the reader has asked the system for less motion. */
export function useLessMotion(): boolean {
  return useMediaQuery("(prefers-reduced-motion: reduce)", { noSsr: true });
}

/** Address of a moving picture, or of a still one. */
export function useMotion(): (address: string) => string {
  const less = useLessMotion();
  return (address) => (less ? `${address}&still=true` : address);
}
