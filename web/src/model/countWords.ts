const many = (count: number, one: string, more: string) =>
  `${count.toLocaleString("en")} ${count === 1 ? one : more}`;

/** What a piece is made of, in words: faces, else curves, else loose points. */
export function countWords(counts: Counts & { curves: number; shards?: number }): string {
  if (counts.shards) return `${whole(counts)} · ${many(counts.shards, "shard", "shards")}`;
  if (counts.copies) return `${many(counts.copies, "copy", "copies")} · ${whole(counts)}`;
  return whole(counts);
}

function whole(counts: Counts & { curves: number }): string {
  const points = many(counts.points, "point", "points");
  if (counts.faces) return `${points} · ${many(counts.faces, "face", "faces")}`;
  if (counts.curves) return `${points} · ${many(counts.curves, "curve", "curves")}`;
  return many(counts.points, "loose point", "loose points");
}

interface Counts {
  points: number;
  faces: number;
  copies: number;
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
  if (before.copies !== after.copies) {
    const made = `${short(after.copies)} ${after.copies === 1 ? "copy" : "copies"}`;
    return after.copies ? `→ ${made}` : `→ ${short(after.points)} points`;
  }
  if (before.faces !== after.faces) return `→ ${short(after.faces)} faces`;
  return before.points === after.points ? "" : `→ ${short(after.points)} points`;
}

/** What smoothing did to the volume; "" where that cannot be seen. */
export function volumeWords(change: number | null | undefined): string {
  if (!change || Math.abs(change) < 0.005) return "";
  const share = `${(100 * Math.abs(change)).toFixed(Math.abs(change) < 0.1 ? 1 : 0)} %`;
  return change < 0 ? `${share} of the volume is lost` : `${share} more volume`;
}

/** The same in full, before and after, for whoever asks. */
export function changeInFull(before: Counts | undefined, after: Counts): string {
  if (!before || !changeWords(before, after)) return "";
  const told = (counts: Counts, kind: keyof Counts) => counts[kind].toLocaleString("en");
  if (!before.copies && after.copies)
    return `${many(after.copies, "copy", "copies")} of ${many(before.points, "point", "points")}`;
  if (before.copies && !after.copies)
    return `${told(before, "copies")} copies → ${told(after, "points")} points`;
  return (["points", "faces", "copies"] as const)
    .filter((kind) => before[kind] !== after[kind])
    .map((kind) => `${told(before, kind)} → ${told(after, kind)} ${kind}`)
    .join(", ");
}
