import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { remembered } from "./remembered";

const NAME = "kept";
let stored: Map<string, string>;

beforeEach(() => {
  stored = new Map();
  vi.stubGlobal("localStorage", {
    getItem: (name: string) => stored.get(name) ?? null,
    setItem: (name: string, text: string) => stored.set(name, text),
    removeItem: (name: string) => stored.delete(name),
  });
});

afterEach(() => vi.unstubAllGlobals());

test("what is as it began is not stored", () => {
  const storage = remembered({ theme: "paper" });
  void storage?.setItem(NAME, { state: { theme: "paper" }, version: 1 });
  expect(stored.size).toBe(0);
});

test("what was changed is stored, and what was changed back as well", () => {
  const storage = remembered({ theme: "paper" });
  void storage?.setItem(NAME, { state: { theme: "night" }, version: 1 });
  expect(stored.get(NAME)).toContain("night");
  void storage?.setItem(NAME, { state: { theme: "paper" }, version: 1 });
  expect(stored.get(NAME)).toContain("paper");
});

test("what was stored before is known, and not written again", () => {
  stored.set(NAME, JSON.stringify({ state: { theme: "night" }, version: 1 }));
  const storage = remembered({ theme: "paper" });
  expect(storage?.getItem(NAME)).toEqual({ state: { theme: "night" }, version: 1 });
  stored.clear();
  void storage?.setItem(NAME, { state: { theme: "night" }, version: 1 });
  expect(stored.size).toBe(0);
  void storage?.setItem(NAME, { state: { theme: "paper" }, version: 1 });
  expect(stored.get(NAME)).toContain("paper");
});
