import type { Operation } from "../api/client";
import { freshId, type Piece } from "../api/document";

/** The steps from one to another in the recipe, without the form. */
export function between(piece: Piece, one: string | null, other: string | null): string[] {
  const ids = piece.recipe.map((s) => s.id);
  const ends = [one, other].flatMap((id) =>
    id !== null && ids.includes(id) ? [ids.indexOf(id)] : [],
  );
  if (!ends.length) return [];
  return ids.slice(Math.max(1, Math.min(...ends)), Math.max(...ends) + 1);
}

/** Takes a step away, and its group with it where that has no other step. */
export function removing(piece: Piece, step: string): Operation[] {
  const base = `/pieces/${piece.id}`;
  const group = piece.recipe.find((s) => s.id === step)?.group;
  const alone = group && !piece.recipe.some((s) => s.id !== step && s.group === group);
  return [
    { do: "remove", path: `${base}/recipe/${step}` },
    ...(alone ? [{ do: "remove" as const, path: `${base}/groups/${group}` }] : []),
  ];
}

/** Puts steps together under a name. */
export function grouping(
  piece: Piece,
  steps: string[],
): { operations: Operation[]; group: string } {
  const groups = piece.groups ?? [];
  const group = freshId(
    "group",
    groups.map((g) => g.id),
  );
  const base = `/pieces/${piece.id}`;
  const after = groups.length ? groups[groups.length - 1].id : null;
  const item = { id: group, name: `Group ${groups.length + 1}` };
  return {
    group,
    operations: [
      { do: "insert", path: `${base}/groups`, after, item: item as never },
      ...steps.map((id) => ({
        do: "set" as const,
        path: `${base}/recipe/${id}/group`,
        value: group as never,
      })),
    ],
  };
}
