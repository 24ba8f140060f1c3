import { expect, it } from "vitest";
import type { CatalogueEntry } from "../api/client";
import { beginning } from "./beginning";

it("sets what differs in draft and final, and nothing else", () => {
  const values = { halvings: { begins: [5, 6] }, radius: { begins: null } };
  expect(beginning({ values } as unknown as CatalogueEntry)).toEqual({
    halvings: { draft: 5, final: 6 },
  });
  expect(beginning(undefined)).toEqual({});
});
