const DOUBLE_MS = 400;
const NEAR = 8;
const EVENTS = ["pointerdown", "pointerup", "click", "dblclick"] as const;

/**
 * Swallows the second click of a double click whose first one has changed what lies under the
 * pointer, so that it does not land on something else.
 */
export function swallowSecondClick(at: { clientX: number; clientY: number }): void {
  const swallow = (event: MouseEvent) => {
    if (Math.hypot(event.clientX - at.clientX, event.clientY - at.clientY) > NEAR) return;
    event.stopPropagation();
    event.preventDefault();
  };
  for (const kind of EVENTS) window.addEventListener(kind, swallow, true);
  window.setTimeout(() => {
    for (const kind of EVENTS) window.removeEventListener(kind, swallow, true);
  }, DOUBLE_MS);
}
