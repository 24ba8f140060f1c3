import { describe, expect, it } from "vitest";
import type { CatalogueEntry } from "../api/client";
import { keptValues } from "./keptValues";

const entry = (values: Record<string, string>) =>
  ({
    values: Object.fromEntries(Object.entries(values).map(([k, kind]) => [k, { kind }])),
  }) as unknown as CatalogueEntry;

describe("exchanging a form", () => {
  it("keeps the values that both have, of the same kind", () => {
    const from = entry({ radius: "number", size: "number", halvings: "whole" });
    const to = entry({ radius: "number", size: "vector", around: "whole" });
    expect(keptValues({ radius: 0.5, size: 2, halvings: 3 }, from, to)).toEqual({ radius: 0.5 });
  });
});
