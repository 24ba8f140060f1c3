/**
 * A name for this window that survives reloads and restarts, so that its undo does too.
 *
 * Each window of the browser holds a lock on the lowest free number; the first window of the next
 * run gets the number that the first window of this run had.
 */

const BROWSER = "zygomorph-browser";

function browserName(): string {
  let name = localStorage.getItem(BROWSER);
  if (!name) {
    name = Math.random().toString(36).slice(2, 10);
    localStorage.setItem(BROWSER, name);
  }
  return name;
}

function holds(lock: string): Promise<boolean> {
  return new Promise((resolve) => {
    void navigator.locks.request(lock, { ifAvailable: true }, (granted) => {
      resolve(granted !== null);
      // Held until the window closes.
      return granted ? new Promise<void>(() => undefined) : undefined;
    });
  });
}

async function claim(): Promise<string> {
  const name = browserName();
  if (!("locks" in navigator)) return `${name}-1`;
  for (let number = 1; number < 50; number++) {
    if (await holds(`zygomorph-window-${number}`)) return `${name}-${number}`;
  }
  return `${name}-${Math.random().toString(36).slice(2, 8)}`;
}

export const windowId: Promise<string> = claim();
