import { describe, expect, it } from "vitest";
import { keyedAt } from "./keyed";

describe("a key from the value itself", () => {
  it("makes a still value keyed", () => {
    expect(keyedAt(0.5, 0.5, 12)).toEqual({
      signal: "keys",
      keys: [{ frame: 12, value: 0.5, ease: "smooth" }],
    });
  });

  it("joins the keys that are there, in their order and with their ease", () => {
    const signal = {
      signal: "keys",
      after: "repeat",
      keys: [
        { frame: 0, value: 0, ease: "linear" as const },
        { frame: 20, value: 2, ease: "held" as const },
      ],
    };
    // On the curve itself, whatever a coarse reading of it says.
    expect(keyedAt(signal, 1.07, 10)).toEqual({
      ...signal,
      keys: [signal.keys[0], { frame: 10, value: 1, ease: "linear" }, signal.keys[1]],
    });
  });

  it("takes the place of a key at the same frame", () => {
    const signal = { signal: "keys", keys: [{ frame: 4, value: 1, ease: "held" as const }] };
    expect(keyedAt(signal, 3, 4)?.keys).toEqual([{ frame: 4, value: 3, ease: "held" }]);
  });

  it("leaves what another signal moves", () => {
    expect(keyedAt({ signal: "cycle", low: 0 }, 1, 0)).toBeNull();
    expect(keyedAt({ draft: 1, final: 2 }, 1, 0)).toBeNull();
    expect(keyedAt({ signal: "hold", value: 2 }, 2, 0)?.keys).toHaveLength(1);
  });
});
