import { describe, expect, it, vi } from "vitest";

vi.hoisted(() => vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined }));
const { useInterface } = await import("./store");

describe("a study that is opened", () => {
  it("begins with nothing of the one before but how one works", () => {
    const first = useInterface.getState();
    first.set({
      theme: "night",
      quality: "final",
      copiedKey: { value: 2 },
      marker: "path",
      range: [10, 40],
      upTo: "twist",
      brush: { does: "erase", size: 3, strength: 20, softness: 10 },
      clash: { error: { message: "Changed elsewhere." } as never },
      view: { name: "top", count: 3, fit: true },
    });
    first.open({ frame: 12, ribbon: "where" });
    expect(useInterface.getState()).toEqual({
      ...first,
      theme: "night",
      quality: "final",
      copiedKey: { value: 2 },
      frame: 12,
      ribbon: "where",
    });
  });
});
