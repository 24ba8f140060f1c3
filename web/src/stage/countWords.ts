const many = (count: number, one: string, more: string) =>
  `${count.toLocaleString("en")} ${count === 1 ? one : more}`;

/** What a piece is made of, in words: faces, else curves, else points alone. */
export function countWords(counts: { points: number; faces: number; curves: number }): string {
  const points = many(counts.points, "point", "points");
  if (counts.faces) return `${points} · ${many(counts.faces, "face", "faces")}`;
  if (counts.curves) return `${points} · ${many(counts.curves, "curve", "curves")}`;
  return `${points} · no faces`;
}
