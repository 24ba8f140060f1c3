import { describe, expect, it } from "vitest";
import type { Piece } from "../api/document";
import { dropped, rowsOf } from "./rows";

/** A recipe from a line such as "f a [b c] d": brackets are a group named after its first step. */
function piece(line: string): Piece {
  const recipe: Piece["recipe"] = [];
  const groups: NonNullable<Piece["groups"]> = [];
  let group: string | undefined;
  for (const word of line.split(" ")) {
    const id = word.replace(/[[\]]/g, "");
    if (word.startsWith("[")) groups.push({ id: (group = `G${id}`), name: id });
    recipe.push({ id, step: "twist", ...(group ? { group } : {}) });
    if (word.endsWith("]")) group = undefined;
  }
  return { id: "p", name: "P", recipe, groups };
}

function written(p: Piece): string {
  return p.recipe
    .map((s, k) => {
      const opens = s.group && p.recipe[k - 1]?.group !== s.group ? "[" : "";
      const closes = s.group && p.recipe[k + 1]?.group !== s.group ? "]" : "";
      return `${opens}${s.id}${closes}`;
    })
    .join(" ");
}

/** The recipe after a drop, as the server would make it. */
function after(line: string, active: string, over: string, folded: string[] = []): string {
  const own = piece(line);
  const rows = rowsOf(own, (g) => folded.includes(g), null);
  for (const operation of dropped(own, rows, active, over) ?? []) {
    const id = operation.path.split("/")[4];
    const at = own.recipe.findIndex((s) => s.id === id);
    if (operation.do === "set") own.recipe[at].group = operation.value as unknown as string;
    else if (operation.do === "move") {
      const [step] = own.recipe.splice(at, 1);
      own.recipe.splice(own.recipe.findIndex((s) => s.id === operation.after) + 1, 0, step);
    }
  }
  return written(own);
}

describe("lines of a recipe", () => {
  it("a group has a head; folded, its steps are hidden", () => {
    const own = piece("f a [b c] d");
    const keys = (folded: boolean, chosen: string | null) =>
      rowsOf(own, () => folded, chosen).map((r) => r.key);
    expect(keys(false, null)).toEqual(["f", "a", "group b", "b", "c", "d"]);
    expect(keys(true, null)).toEqual(["f", "a", "group b", "d"]);
    expect(keys(true, "c")).toEqual(["f", "a", "group b", "b", "c", "d"]);
  });

  it("a group whose steps were parted by another window has a head for each part", () => {
    const own = piece("f [b c] d");
    own.recipe = [own.recipe[0], own.recipe[1], own.recipe[3], own.recipe[2]];
    const keys = rowsOf(own, () => false, null).map((r) => r.key);
    expect(keys).toEqual(["f", "group b", "b", "d", "group c", "c"]);
  });
});

describe("dropping a line", () => {
  it.each([
    ["f a b c", "a", "c", "f b c a"],
    ["f a b c", "c", "a", "f c a b"],
    // Nothing stands before the form.
    ["f a b", "b", "f", "f b a"],
    // Between two steps of a group it joins it; at its end it does not.
    ["f a [b c] d", "d", "c", "f a [b d c]"],
    ["f a [b c] d", "a", "c", "f [b c] a d"],
    ["f a [b c] d", "a", "b", "f [b a c] d"],
    // Below the head it becomes the first.
    ["f a [b c] d", "d", "b", "f a [d b c]"],
    // A step that is moved within its group stays in it, to its end too; outside it leaves.
    ["f a [b c] d", "b", "c", "f a [c b] d"],
    ["f a [b c] d", "c", "d", "f a [b] d c"],
    ["f a [b c] d", "c", "a", "f c a [b] d"],
    // A group moves as a whole, and never into another.
    ["f a [b c] d", "group b", "a", "f [b c] a d"],
    ["f a [b c] d", "group b", "d", "f a d [b c]"],
    ["f [a b] [c d]", "group a", "c", "f [c d] [a b]"],
    ["f [a b] [c d] e", "group c", "b", "f [a b] [c d] e"],
  ])("%s: %s in the place of %s gives %s", (line, active, over, expected) => {
    expect(after(line, active, over)).toBe(expected);
  });

  it("a step lands below a folded group, outside of it", () => {
    expect(after("f a [b c] d", "a", "group b", ["Gb"])).toBe("f [b c] a d");
    expect(after("f a [b c] d", "d", "group b", ["Gb"])).toBe("f a d [b c]");
  });

  it("a line that is dropped on itself changes nothing", () => {
    const own = piece("f a b");
    expect(
      dropped(
        own,
        rowsOf(own, () => false, null),
        "a",
        "a",
      ),
    ).toBeNull();
    expect(
      dropped(
        own,
        rowsOf(own, () => false, null),
        "f",
        "b",
      ),
    ).toBeNull();
  });
});
