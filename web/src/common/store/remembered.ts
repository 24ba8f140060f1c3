import { createJSONStorage, type PersistStorage } from "zustand/middleware";

/**
 * The browser's own storage, written only where what is kept has changed: the state of the screen
 * changes with every frame that plays. A browser that keeps nothing forgets it.
 */
export function remembered<Kept>(): PersistStorage<Kept> | undefined {
  const storage = createJSONStorage<Kept>(() => localStorage);
  if (!storage) return undefined;
  let last = "";
  return {
    ...storage,
    setItem: (name, value) => {
      const text = JSON.stringify(value);
      if (text === last) return;
      last = text;
      try {
        void storage.setItem(name, value);
      } catch {
        // No room, or not allowed.
      }
    },
  };
}
