/** Whether a formula uses a name. */
export function mentions(formula: string, name: string): boolean {
  return new RegExp(`(^|[^A-Za-z0-9_])${name}(?![A-Za-z0-9_(])`).test(formula);
}
