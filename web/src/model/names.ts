/** A name that no other has: with a number behind it where it is taken. */
export function freeName(name: string, taken: readonly string[]): string {
  if (!taken.includes(name)) return name;
  const plain = name.replace(/ \d+$/, "");
  for (let number = 2; ; number++) {
    if (!taken.includes(`${plain} ${number}`)) return `${plain} ${number}`;
  }
}

/** Whether a piece is still called by its form, as it was when it was made. */
export function namedByForm(name: string, form: string): boolean {
  return (
    name === form || (name.startsWith(`${form} `) && /^\d+$/.test(name.slice(form.length + 1)))
  );
}
