import { beforeEach, describe, expect, it, vi } from "vitest";
import { copied, copy, fresh } from "./clipboard";

describe("copying between studies", () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal("localStorage", {
      getItem: (name: string) => kept.get(name) ?? null,
      setItem: (name: string, text: string) => kept.set(name, text),
    });
  });
  it("gives back what was copied", () => {
    expect(copied()).toBeNull();
    copy({ kind: "step", item: { id: "a", step: "twist" } });
    expect(copied()).toEqual({ kind: "step", item: { id: "a", step: "twist" } });
  });
  it("does not stumble over what others wrote there", () => {
    for (const text of ["{", "3", '{"kind":"door","item":{}}', '{"kind":"step"}']) {
      kept.set("zygomorph-copied", text);
      expect(copied()).toBeNull();
    }
  });
  it("makes a copy of its own with a new id", () => {
    const step = { id: "a", step: "twist", values: { angle: 3 } };
    const made = fresh(step, "step", ["a", "step2"]);
    expect(made).toEqual({ id: "step3", step: "twist", values: { angle: 3 } });
    expect(made.values).not.toBe(step.values);
  });
});
