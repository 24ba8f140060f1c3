import type { CatalogueEntry } from "../api/client";
import type { DocValue } from "../api/document";

/** Values that another form has too, under the same name and of the same kind. */
export function keptValues(
  given: Record<string, DocValue>,
  from: CatalogueEntry | undefined,
  to: CatalogueEntry,
): Record<string, DocValue> {
  return Object.fromEntries(
    Object.entries(given).filter(
      ([name]) =>
        from?.values[name] !== undefined && to.values[name]?.kind === from.values[name].kind,
    ),
  );
}
