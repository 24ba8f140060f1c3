import { describe, expect, it } from "vitest";
import type { Piece } from "../api/document";
import { toggled } from "./frontValues";
import { between, grouping, removing } from "./grouping";

const PIECE: Piece = {
  id: "p",
  name: "P",
  recipe: ["f", "a", "b", "c"].map((id) => ({ id, step: "twist" })),
  groups: [{ id: "group2", name: "Old" }],
};

describe("grouping", () => {
  it("takes the steps between two, in either order, never the form", () => {
    expect(between(PIECE, "a", "c")).toEqual(["a", "b", "c"]);
    expect(between(PIECE, "c", "b")).toEqual(["b", "c"]);
    expect(between(PIECE, "b", null)).toEqual(["b"]);
    expect(between(PIECE, "f", "a")).toEqual(["a"]);
    expect(between(PIECE, null, "gone")).toEqual([]);
  });

  it("makes a group under an id that is not taken, and puts the steps into it", () => {
    const { operations, group } = grouping(PIECE, ["a", "b"]);
    expect(group).toBe("group3");
    expect(operations.map((o) => [o.do, o.path])).toEqual([
      ["insert", "/pieces/p/groups"],
      ["set", "/pieces/p/recipe/a/group"],
      ["set", "/pieces/p/recipe/b/group"],
    ]);
  });
});

describe("removing a step", () => {
  const piece: Piece = {
    ...PIECE,
    recipe: PIECE.recipe.map((s) => ({ ...s, group: s.id === "a" ? null : "group2" })),
  };
  it("leaves a group that has other steps", () => {
    expect(removing(piece, "b").map((o) => o.path)).toEqual(["/pieces/p/recipe/b"]);
    expect(removing(piece, "a").map((o) => o.path)).toEqual(["/pieces/p/recipe/a"]);
  });
  it("takes the group with its last step", () => {
    const last = { ...piece, recipe: piece.recipe.filter((s) => s.id === "a" || s.id === "c") };
    expect(removing(last, "c").map((o) => o.path)).toEqual([
      "/pieces/p/recipe/c",
      "/pieces/p/groups/group2",
    ]);
  });
});

describe("the front of a group", () => {
  it("gains a value, and loses it again", () => {
    const group = { id: "g", name: "G" };
    const one = toggled(group, "a", "values/angle");
    expect(one).toEqual([{ id: "front1", step: "a", value: "values/angle" }]);
    const two = toggled({ ...group, front: one }, "b", "values/angle");
    expect(two.map((f) => f.id)).toEqual(["front1", "front2"]);
    expect(toggled({ ...group, front: two }, "a", "values/angle")).toEqual([two[1]]);
  });
});
