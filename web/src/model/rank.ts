/** What is searched for a word. */
export interface Searched {
  title: string;
  /** Other words for it. */
  also?: readonly string[];
  /** What it does, in which a word counts least. */
  help?: string;
}

/** Lower case without accents, so that words are found however they are typed. */
function plain(text: string): string {
  return text
    .normalize("NFD")
    .replace(/\p{Diacritic}/gu, "")
    .toLowerCase()
    .trim();
}

function words(text: string): string[] {
  return plain(text)
    .split(/[^\p{Letter}\p{Number}]+/u)
    .filter(Boolean);
}

/**
 * How well something fits what is typed, 0 where it does not: its very name first, then names that
 * begin with it, then whole words of names, other words for it, beginnings of words, and what it does.
 */
export function rank(found: Searched, wanted: string): number {
  const text = plain(wanted);
  if (!text) return 1;
  const title = plain(found.title);
  if (title === text) return 1;
  if (title.startsWith(text)) return 0.9;
  const other = (found.also ?? []).map(plain);
  if (words(title).includes(text)) return 0.87;
  if (other.includes(text)) return 0.85;
  if (words(title).some((word) => word.startsWith(text))) return 0.8;
  if (other.some((word) => word.startsWith(text))) return 0.7;
  // Several words in any order, each the beginning of one of its own.
  const parts = words(text);
  const own = [...words(title), ...other.flatMap(words)];
  if (parts.length > 1 && parts.every((part) => own.some((word) => word.startsWith(part))))
    return 0.6;
  if (title.includes(text)) return 0.5;
  const told = words(found.help ?? "");
  if (parts.every((part) => [...own, ...told].some((word) => word.startsWith(part)))) return 0.3;
  return 0;
}

/** Those that fit, the best first; those that fit equally well stay in their order. */
export function ranked<T>(all: readonly T[], searched: (one: T) => Searched, wanted: string): T[] {
  return all
    .map((one) => ({ one, fits: rank(searched(one), wanted) }))
    .filter(({ fits }) => fits > 0)
    .sort((a, b) => b.fits - a.fits)
    .map(({ one }) => one);
}
