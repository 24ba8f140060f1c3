/** Resolves after so many milliseconds. */
export const pause = (ms: number) => new Promise<void>((ready) => setTimeout(ready, ms));
