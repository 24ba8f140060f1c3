import { expect, test } from "vitest";
import { newest } from "./newest";

test("a state that was asked for before an edit does not undo it on the screen", () => {
  const asked = { revision: 2, keys: 3 };
  expect(newest(asked, { revision: 3, keys: 4 })).toEqual({ revision: 3, keys: 4 });
  expect(newest(asked, { revision: 1, keys: 2 })).toBe(asked);
  expect(newest(asked, undefined)).toBe(asked);
});
