import type { Catalogue, ValueEntry } from "../api/client";
import type { DocValue, Front, Group, Step } from "../api/document";

/** A value of a step or of one of its mask layers that a group can show first. */
export interface FrontValue {
  step: Step;
  /** As a path inside the step. */
  path: string;
  name: string;
  entry: ValueEntry;
  given: DocValue | undefined;
  /** What the mask layer is called that it belongs to. */
  layer?: string;
}

function of(
  step: Step,
  prefix: string,
  layer: string | undefined,
  entries: Record<string, ValueEntry>,
  given: Record<string, DocValue>,
): FrontValue[] {
  return Object.entries(entries).map(([name, entry]) => ({
    step,
    path: `${prefix}values/${name}`,
    name,
    entry,
    given: given[name],
    layer,
  }));
}

/** Everything that a step offers to be shown first. */
export function valuesOf(step: Step, catalogue: Catalogue): FrontValue[] {
  const own = catalogue.steps.find((d) => d.key === step.step);
  const layers = (step.where?.layers ?? []).flatMap((layer) => {
    const kind = catalogue.layers.find((d) => d.key === layer.layer);
    const prefix = `where/layers/${layer.id}/`;
    return kind ? of(step, prefix, kind.title, kind.values, layer.values ?? {}) : [];
  });
  return [...(own ? of(step, "", undefined, own.values, step.values ?? {}) : []), ...layers];
}

/** What a group shows first; what was removed since is left out. */
export function frontOf(
  group: Group,
  recipe: Step[],
  catalogue: Catalogue,
): (FrontValue & { front: Front })[] {
  return (group.front ?? []).flatMap((front) => {
    const step = recipe.find((s) => s.id === front.step);
    const found = step && valuesOf(step, catalogue).find((v) => v.path === front.value);
    if (!found) return [];
    const entry = front.name ? { ...found.entry, label: front.name } : found.entry;
    return [{ ...found, entry, front }];
  });
}

/** A group's front with one value more, or without it. */
export function toggled(group: Group, step: string, value: string): Front[] {
  const front = group.front ?? [];
  const rest = front.filter((f) => f.step !== step || f.value !== value);
  if (rest.length < front.length) return rest;
  const taken = front.map((f) => Number(f.id.replace("front", "")) || 0);
  return [...front, { id: `front${Math.max(0, ...taken) + 1}`, step, value }];
}
