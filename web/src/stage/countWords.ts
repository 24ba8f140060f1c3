const many = (count: number, one: string, more: string) =>
  `${count.toLocaleString("en")} ${count === 1 ? one : more}`;

/** What a piece is made of, in words: faces, else curves, else loose points. */
export function countWords(counts: { points: number; faces: number; curves: number }): string {
  const points = many(counts.points, "point", "points");
  if (counts.faces) return `${points} · ${many(counts.faces, "face", "faces")}`;
  if (counts.curves) return `${points} · ${many(counts.curves, "curve", "curves")}`;
  return many(counts.points, "loose point", "loose points");
}

interface Counts {
  points: number;
  faces: number;
}

/** A count in few characters: 950, 6.4k, 1.64M. */
function short(count: number): string {
  if (count < 1000) return String(count);
  if (count < 1e6) return `${Number((count / 1e3).toPrecision(3))}k`;
  return `${Number((count / 1e6).toPrecision(3))}M`;
}

/** What a step did to the counts, for its row; nothing where they stayed. */
export function changeWords(before: Counts | undefined, after: Counts): string {
  if (!before) return "";
  if (before.faces !== after.faces) return `→ ${short(after.faces)} faces`;
  return before.points === after.points ? "" : `→ ${short(after.points)} points`;
}
