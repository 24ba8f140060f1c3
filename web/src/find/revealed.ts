/** Brings a value's row into view and gives it the focus, as soon as it is there. */
export function reveal(name: string): void {
  let tries = 30;
  const look = () => {
    const row = document.querySelector<HTMLElement>(`[data-value="${CSS.escape(name)}"]`);
    const target = row?.querySelector<HTMLElement>("[role=slider], input, [role=combobox], button");
    if (row && target) {
      row.scrollIntoView({ block: "nearest" });
      target.focus();
    } else if (tries-- > 0) requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}
