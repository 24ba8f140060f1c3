// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { ValueEntry } from "../../api/client";
import { useInterface } from "../store/store";
import { BeyondContext } from "./beyond";
import { Ruler } from "./Ruler";

const SIZE = {
  kind: "number",
  label: "Size",
  unit: "m",
  soft: [0.1, 4],
  hard: [0.001, 100],
  scale: "linear",
  default: 1,
} as unknown as ValueEntry;
const CYCLES = {
  ...SIZE,
  kind: "whole",
  label: "Cycles",
  unit: "/ loop",
  soft: [1, 12],
  hard: [0, 1000],
} as ValueEntry;

function shown(part: Partial<Parameters<typeof Ruler>[0]> = {}) {
  const told = { onStore: vi.fn(), onLive: vi.fn(), onOpenSignal: vi.fn() };
  const entry = part.entry ?? SIZE;
  render(
    <Ruler
      entry={entry}
      label={entry.label}
      value={1}
      tone="roles.what"
      rate={24}
      {...told}
      {...part}
    />,
  );
  return told;
}

/** Click the figure, type and accept. */
async function typed(text: string, name = /^Size:|^Cycles:/) {
  await userEvent.click(screen.getByRole("button", { name }));
  await userEvent.keyboard(`{Control>}a{/Control}${text}{Enter}`);
}

const notice = () => useInterface.getState().notice;
beforeEach(() => useInterface.setState({ notice: null }));
afterEach(cleanup);

describe("a number on its scale", () => {
  it("takes sums and units", async () => {
    const told = shown();
    await typed("30 cm + 1 in");
    expect(told.onStore).toHaveBeenCalledWith(expect.closeTo(0.3254, 4));
    expect(notice()).toBeNull();
  });

  it("says to what it was limited", async () => {
    const told = shown();
    await typed("-3");
    expect(told.onStore).toHaveBeenCalledWith(0.001);
    expect(notice()?.text).toBe("Size is at least 0.001 m: set to 0.001 m.");
  });

  it("says to what it was rounded, and offers what was perhaps meant", async () => {
    const run = vi.fn();
    const beyond = (name: string, value: number) =>
      name === "cycles" ? { label: `Run ${value} instead`, run } : undefined;
    const onStore = vi.fn();
    render(
      <BeyondContext.Provider value={beyond}>
        <Ruler
          entry={CYCLES}
          name="cycles"
          label="Cycles"
          value={1}
          tone="roles.when"
          rate={24}
          onLive={vi.fn()}
          onStore={onStore}
        />
      </BeyondContext.Provider>,
    );
    await typed("1.3");
    expect(onStore).toHaveBeenCalledWith(1);
    expect(notice()?.text).toContain("whole number: 1.3 is set to 1");
    expect(notice()?.action?.label).toBe("Run 1.3 instead");
  });

  it("keeps a mistake in the field and stores nothing", async () => {
    const told = shown();
    await typed("12 cm + 3 apples");
    expect(told.onStore).not.toHaveBeenCalled();
    expect(screen.getByRole("textbox").getAttribute("aria-invalid")).toBe("true");
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("textbox")).toBeNull();
  });

  it("opens its signal where it moves, and its second click goes nowhere", async () => {
    const told = shown({ moving: true });
    const elsewhere = vi.fn();
    window.addEventListener("dblclick", elsewhere);
    await userEvent.dblClick(screen.getByRole("button", { name: /moves/ }));
    expect(told.onOpenSignal).toHaveBeenCalledTimes(1);
    expect(elsewhere).not.toHaveBeenCalled();
    window.removeEventListener("dblclick", elsewhere);
    await new Promise((over) => setTimeout(over, 450));
  });

  it("is typed where it is keyed, and does not jump to its signal", async () => {
    const told = shown({ moving: true, keyed: true });
    await typed("2");
    expect(told.onStore).toHaveBeenCalledWith(2);
    expect(told.onOpenSignal).not.toHaveBeenCalled();
  });

  it("begins typing by Enter, with what is there chosen", async () => {
    const told = shown();
    screen.getByRole("slider").focus();
    await userEvent.keyboard("{Enter}");
    await userEvent.keyboard("0.5{Enter}");
    expect(told.onStore).toHaveBeenCalledWith(0.5);
  });

  it("makes one edit of a key that is held", () => {
    const told = shown();
    const scale = screen.getByRole("slider");
    for (let k = 0; k < 5; k++) fireEvent.keyDown(scale, { key: "ArrowRight" });
    expect(told.onStore).not.toHaveBeenCalled();
    expect(told.onLive).toHaveBeenCalledTimes(5);
    fireEvent.keyUp(scale, { key: "ArrowRight" });
    expect(told.onStore).toHaveBeenCalledTimes(1);
    expect(told.onStore).toHaveBeenCalledWith(expect.closeTo(1 + 5 * 0.02 * 3.9, 2));
  });
});
