import type { CatalogueEntry } from "../api/client";
import type { DocValue } from "../api/document";

/** What is set in a new piece of this form: light enough to be played in draft, fine in final. */
export function beginning(form: CatalogueEntry | undefined): Record<string, DocValue> {
  return Object.fromEntries(
    Object.entries(form?.values ?? {}).flatMap(([name, { begins }]) =>
      begins ? [[name, { draft: begins[0], final: begins[1] }]] : [],
    ),
  );
}
