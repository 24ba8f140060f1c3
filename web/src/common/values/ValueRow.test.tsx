// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { ValueEntry } from "../../api/client";
import type { DocValue } from "../../api/document";
import { useInterface } from "../store/store";
import { noteStilled } from "../../model/stilled";
import { ValueRow } from "./ValueRow";

const AMOUNT = {
  kind: "number",
  label: "Amount",
  help: "",
  unit: "m",
  soft: [0, 1],
  hard: [null, null],
  scale: "linear",
  default: 0.2,
  moves: true,
  options: [],
} as unknown as ValueEntry;
const MOVE = { ...AMOUNT, kind: "vector", label: "Move", default: [0, 0, 0] } as ValueEntry;

function row(entry: ValueEntry, value: DocValue, address?: string) {
  const store = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <ValueRow
          name="amount"
          entry={entry}
          value={value}
          lanes={[]}
          path="values/amount"
          address={address}
          tone="roles.what"
          frames={48}
          rate={24}
          live={vi.fn()}
          store={store}
        />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return store;
}

beforeEach(() => useInterface.setState({ frame: 12, quality: "draft" }));
afterEach(cleanup);

describe("a value's row", () => {
  it("sets a key at the playhead where a keyed value is typed", async () => {
    const keys = [
      { frame: 0, value: 0, ease: "held" as const },
      { frame: 24, value: 1, ease: "held" as const },
    ];
    const store = row(AMOUNT, { signal: "keys", keys });
    await userEvent.click(screen.getByRole("button", { name: /type a key/ }));
    await userEvent.keyboard("{Control>}a{/Control}0.7{Enter}");
    const [signal, label] = store.mock.calls[0];
    expect(label).toBe("Key amount");
    expect(signal.keys).toEqual([keys[0], { frame: 12, value: 0.7, ease: "held" }, keys[1]]);
  });

  it("asks which of a vector is to move", async () => {
    const store = row(MOVE, [0, 0, 0]);
    await userEvent.click(screen.getByRole("button", { name: "Make it move: Move" }));
    const offered = screen.getAllByRole("menuitem").map((item) => item.textContent);
    expect(offered).toEqual(["x", "y", "z", "all three"]);
    await userEvent.click(screen.getByRole("menuitem", { name: "z" }));
    const [parts] = store.mock.calls[0];
    expect(parts.slice(0, 2)).toEqual([0, 0]);
    expect(parts[2].signal).toBe("cycle");
  });

  it("moves as before after it was stilled", async () => {
    const before = { signal: "drift", low: 0.1, high: 0.4, pace: 3 };
    const address = "/pieces/p/recipe/s/values/amount";
    noteStilled(address, before);
    const store = row(AMOUNT, 0.25, address);
    await userEvent.click(screen.getByRole("button", { name: "Make it move: Amount" }));
    expect(store).toHaveBeenCalledWith(before, "Move amount");
  });

  it("of a vector, the component that was stilled moves as before", async () => {
    const before = { signal: "run", rate: 2, start: 0 };
    const address = "/pieces/q/recipe/s/values/move";
    noteStilled(`${address}/1`, before);
    const store = row(MOVE, [1, 2, 3], address);
    await userEvent.click(screen.getByRole("button", { name: "Make it move: Move" }));
    await userEvent.click(screen.getByRole("menuitem", { name: "as it moved before" }));
    expect(store).toHaveBeenCalledWith([1, before, 3], expect.any(String));
  });
});
