import type { ValueEntry } from "../api/client";
import type { DocValue } from "../api/document";
import { mentions } from "./mentions";

type Entries = Record<string, ValueEntry>;
type Given = Record<string, DocValue>;

/** A value that is given, or its default, as text. */
function textOf(entries: Entries, given: Given, name: string): string {
  return String(given[name] ?? entries[name]?.default ?? "");
}

/** Whether a value does anything as others are: a choice that reads it is made, a formula names it. */
export function applies(entries: Entries, given: Given, name: string): boolean {
  const entry = entries[name];
  if (entry.mentioned_in.length)
    return entry.mentioned_in.some(
      (formula) =>
        applies(entries, given, formula) && mentions(textOf(entries, given, formula), name),
    );
  if (!entry.shown_when) return true;
  const [choice, options] = entry.shown_when;
  return options.includes(textOf(entries, given, choice));
}
