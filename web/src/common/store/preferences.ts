import type { ThemeName } from "../theme";
import type { Slice } from "./slice";

/** How somebody likes to work; this browser remembers it. */
export interface Preferences {
  theme: ThemeName;
  /** Whether the sound that a study listens to is heard while it plays. */
  hearing: boolean;
  /** Pixels that the recipe is wide and the time strip high. */
  sizes: { recipe: number; strip: number };
  /** Groups whose steps are shown. */
  unfolded: Record<string, boolean>;
  fold: (group: string, folded: boolean) => void;
}

export const preferences: Slice<Preferences, never> = {
  create: (set) => ({
    theme: "paper",
    hearing: true,
    sizes: { recipe: 372, strip: 176 },
    unfolded: {},
    fold: (group, folded) =>
      set(({ unfolded }) => ({ unfolded: { ...unfolded, [group]: !folded } })),
  }),
  perStudy: () => ({}),
};

/** What of the state is kept by the browser. */
export function keptOf({ theme, hearing, sizes, unfolded }: Preferences) {
  return { theme, hearing, sizes, unfolded };
}
