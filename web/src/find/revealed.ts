const PATIENCE_MS = 3000;
/** A dialog that has closed gives the focus back to what had it before, within so many pictures. */
const GIVEN_BACK = 5;

/** Brings a value's row into view and gives it the focus, as soon as it is there. */
export function reveal(name: string): void {
  const until = performance.now() + PATIENCE_MS;
  let held = 0;
  const look = () => {
    const row = document.querySelector<HTMLElement>(`[data-value="${CSS.escape(name)}"]`);
    // Its name, which is a button, stands before what sets it.
    const target =
      row?.querySelector<HTMLElement>("[role=slider], input, [role=combobox]") ??
      row?.querySelector<HTMLElement>("button");
    if (row && target && !document.querySelector("[role=dialog]")) {
      row.scrollIntoView({ block: "nearest" });
      target.focus();
      held += 1;
    }
    if (held < GIVEN_BACK && performance.now() < until) requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}
