import { describe, expect, it } from "vitest";
import { isMovingColour } from "../api/document";
import { startMovingColour } from "./movingColour";

describe("a colour that begins to move", () => {
  it("goes from what it is to another and back", () => {
    const moving = startMovingColour("#204060");
    expect(isMovingColour(moving)).toBe(true);
    expect(moving.gradient).toMatchObject({
      stops: [
        { at: 0, colour: "#204060" },
        { at: 1, colour: "#90a0b0" },
      ],
    });
    expect(moving.at).toMatchObject({ signal: "cycle", low: 0, high: 1 });
  });
  it("grows darker where it is nearly white", () => {
    const { gradient } = startMovingColour("#ffffff");
    expect(gradient).toMatchObject({ stops: [{}, { colour: "#808080" }] });
  });
  it("keeps the colours that it has", () => {
    const known = { gradient: "ember", at: 0.5 };
    expect(startMovingColour(known).gradient).toBe("ember");
  });
});
