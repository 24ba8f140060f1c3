let pointer = false;

window.addEventListener("pointerdown", () => (pointer = true), true);
window.addEventListener("keydown", (e) => e.key === "Tab" && (pointer = false), true);

/** Whether the focus was set by a click, so that Space means to play and not to press again. */
export function focusedByPointer(): boolean {
  return pointer;
}
