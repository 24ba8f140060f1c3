import { createJSONStorage, type PersistStorage } from "zustand/middleware";

/**
 * The browser's own storage, written only where what is kept has changed: the state of the screen
 * changes with every frame that plays. A browser that keeps nothing forgets it.
 *
 * @param begins what is so where nothing is stored
 */
export function remembered<Kept>(begins: Kept): PersistStorage<Kept> | undefined {
  const storage = createJSONStorage<Kept>(() => localStorage);
  if (!storage) return undefined;
  let last = JSON.stringify(begins);
  return {
    ...storage,
    getItem: (name) => {
      const found = storage.getItem(name);
      if (found && "state" in found) last = JSON.stringify(found.state);
      return found;
    },
    setItem: (name, value) => {
      const text = JSON.stringify(value.state);
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
