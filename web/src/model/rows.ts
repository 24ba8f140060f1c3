import type { Operation } from "../api/client";
import type { Group, Piece, Step } from "../api/document";

/** A line of the recipe: a step, or the head of steps that stand together under a name. */
export type Row =
  | { kind: "step"; key: string; step: Step; index: number }
  | { kind: "group"; key: string; group: Group; steps: Step[]; index: number; folded: boolean };

/** Under which name it is remembered whether a group's steps are shown. */
export function foldKey(study: string, piece: string, group: string): string {
  return `${study}/${piece}/${group}`;
}

/** The group of a step that is added after another: that one's, unless it is folded away. */
export function groupAfter(piece: Piece, after: string, isFolded: (group: string) => boolean) {
  const group = piece.recipe.find((s) => s.id === after)?.group;
  return group && !isFolded(group) ? { group } : {};
}

/** The lines of a recipe.
 *
 * isFolded : whether a group's steps are hidden; those of a group that holds `chosen` never are */
export function rowsOf(
  piece: Piece,
  isFolded: (group: string) => boolean,
  chosen: string | null,
): Row[] {
  const rows: Row[] = [];
  const { recipe, groups = [] } = piece;
  for (let index = 0; index < recipe.length;) {
    const step = recipe[index];
    const group = groups.find((g) => g.id === step.group);
    if (!group) {
      rows.push({ kind: "step", key: step.id, step, index: index++ });
      continue;
    }
    let end = index;
    while (recipe[end]?.group === group.id) end += 1;
    const steps = recipe.slice(index, end);
    const folded = isFolded(group.id) && !steps.some((s) => s.id === chosen);
    rows.push({ kind: "group", key: `group ${step.id}`, group, steps, index, folded });
    if (!folded)
      steps.forEach((s, k) => rows.push({ kind: "step", key: s.id, step: s, index: index + k }));
    index = end;
  }
  return rows;
}

function groupOf(row: Row | undefined): string | null {
  return (row?.kind === "step" && row.step.group) || null;
}

function moved<T>(items: T[], from: number, to: number): T[] {
  const rest = items.filter((_, k) => k !== from);
  return [...rest.slice(0, to), items[from], ...rest.slice(to)];
}

/** What dropping one line in the place of another changes: nothing may stand before the form. */
export function dropped(
  piece: Piece,
  rows: Row[],
  active: string,
  over: string,
): Operation[] | null {
  const from = rows.findIndex((r) => r.key === active);
  const to = Math.max(
    1,
    rows.findIndex((r) => r.key === over),
  );
  if (from < 1 || from === to) return null;
  const base = `/pieces/${piece.id}/recipe`;
  const own = rows[from];
  const members = own.kind === "group" ? own.steps : [own.step];
  const isOwn = (row: Row) => row.kind === "step" && members.some((m) => m.id === row.step.id);
  const order = moved(rows, from, to);
  const at = order.indexOf(own);
  const before = order.slice(0, at).filter((r) => r === own || !isOwn(r));
  const last = before[before.length - 1];
  const next = order.slice(at + 1).find((r) => own.kind === "step" || !isOwn(r));
  const { after, group } = landing(piece, last, next, own);
  const operations: Operation[] = [];
  let previous = after;
  for (const step of members) {
    operations.push({ do: "move", path: `${base}/${step.id}`, after: previous });
    previous = step.id;
  }
  if (own.kind === "step" && (own.step.group ?? null) !== group)
    operations.push({ do: "set", path: `${base}/${own.step.id}/group`, value: group as never });
  return operations;
}

/** After which step something lands between two lines, and in which group. */
function landing(piece: Piece, last: Row | undefined, next: Row | undefined, own: Row) {
  const { recipe } = piece;
  if (!last) return { after: recipe[0].id, group: null };
  if (last.kind === "group" && !last.folded && own.kind === "step") {
    // Below the head of an open group: its first step from now on.
    return { after: recipe[last.index - 1].id, group: last.group.id };
  }
  if (last.kind === "group") return { after: last.steps[last.steps.length - 1].id, group: null };
  const group = groupOf(last);
  if (own.kind === "group" && group) {
    // A group does not stand within another: it goes below all of it.
    const end = recipe.findIndex(
      (s, k) => k > recipe.indexOf(last.step) && s.group !== group && s.id !== last.step.id,
    );
    return { after: recipe[(end < 0 ? recipe.length : end) - 1].id, group: null };
  }
  const within = group !== null && (groupOf(next) === group || groupOf(own) === group);
  return { after: last.step.id, group: within ? group : null };
}
