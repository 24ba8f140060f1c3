/** Paths in a plane, as the document holds them. */
export interface DrawnPath {
  closed: boolean;
  knots: [number, number][];
}

const round = (value: number) => Math.round(value * 1000) / 1000;

/** With a knot more at the end of the path that is being drawn, or as the first of a new one. */
export function extended(paths: DrawnPath[], drawing: boolean, x: number, y: number): DrawnPath[] {
  const knot: [number, number] = [round(x), round(y)];
  const last = paths[paths.length - 1];
  if (!drawing || !last || last.closed) return [...paths, { closed: false, knots: [knot] }];
  return [...paths.slice(0, -1), { ...last, knots: [...last.knots, knot] }];
}

/** With the path that is being drawn closed; of less than three knots it stays open. */
export function closed(paths: DrawnPath[]): DrawnPath[] {
  const last = paths[paths.length - 1];
  if (!last || last.knots.length < 3) return paths;
  return [...paths.slice(0, -1), { ...last, closed: true }];
}

/** With one knot in another place. */
export function moved(
  paths: DrawnPath[],
  path: number,
  knot: number,
  x: number,
  y: number,
): DrawnPath[] {
  return paths.map((p, k) =>
    k === path
      ? {
          ...p,
          knots: p.knots.map((own, n) =>
            n === knot ? ([round(x), round(y)] as [number, number]) : own,
          ),
        }
      : p,
  );
}

/** Without one knot; a path of none goes, and one of two is no longer closed. */
export function without(paths: DrawnPath[], path: number, knot: number): DrawnPath[] {
  return paths.flatMap((p, k) => {
    if (k !== path) return [p];
    const knots = p.knots.filter((_, n) => n !== knot);
    return knots.length ? [{ closed: p.closed && knots.length > 2, knots }] : [];
  });
}
