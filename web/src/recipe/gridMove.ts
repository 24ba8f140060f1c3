/**
 * The next choice in groups that stand one under the other, each in rows of its own.
 *
 * sizes : entries of each group; chosen : its number over all groups; by : ±1 or ± a whole row
 */
export function moved(sizes: number[], chosen: number, by: number, columns: number): number {
  const total = sizes.reduce((sum, size) => sum + size, 0);
  if (!total) return 0;
  if (Math.abs(by) === 1) return Math.min(Math.max(chosen + by, 0), total - 1);
  const rows: number[][] = [];
  let first = 0;
  for (const size of sizes) {
    for (let k = 0; k < size; k += columns)
      rows.push(Array.from({ length: Math.min(columns, size - k) }, (_, c) => first + k + c));
    first += size;
  }
  const row = rows.findIndex((r) => r.includes(chosen));
  const next = rows[Math.min(Math.max(row + Math.sign(by), 0), rows.length - 1)];
  return next[Math.min(rows[row].indexOf(chosen), next.length - 1)];
}
