import { describe, expect, it } from "vitest";
import { figure, parseNumber, withUnit } from "./parse";

describe("parseNumber", () => {
  it.each([
    ["132/4", "", 33],
    ["2 * (3 + 1)", "m", 8],
    ["30 cm", "m", 0.3],
    ["1.5", "m", 1.5],
    ["1,5", "m", 1.5],
    ["90°", "°", 90],
    ["0.5 cycle", "°", 180],
    ["90°", "cycle", 0.25],
    ["1.25s", "frames", 30],
    ["30f", "frames", 30],
    ["-3", "", -3],
    ["50 %", "×", 0.5],
  ])("reads %s in %s", (text, unit, value) => {
    expect(parseNumber(text, unit, 24)).toEqual({ value: expect.closeTo(value, 9) });
  });

  it.each([
    ["", "m"],
    ["abc", "m"],
    ["1/0", "m"],
    ["3 kg", "m"],
    ["alert(1)", "m"],
    ["1 +", "m"],
  ])("explains what is wrong with %s", (text, unit) => {
    const found = parseNumber(text, unit);
    expect("error" in found && found.error.length).toBeTruthy();
  });
});

describe("figure", () => {
  it("keeps as many digits as are of use", () => {
    expect(figure(0.12345)).toBe("0.123");
    expect(figure(12.345)).toBe("12.35");
    expect(figure(240)).toBe("240");
  });
  it("writes degrees without a space", () => {
    expect(withUnit(90, "°")).toBe("90°");
    expect(withUnit(0.3, "m")).toBe("0.3 m");
  });
});

describe("several units", () => {
  it("are brought to that of the value", () => {
    expect(parseNumber("30 cm + 1in", "m")).toEqual({ value: expect.closeTo(0.3254, 6) as number });
    expect(parseNumber("0.3 m + 4 cm", "m")).toEqual({ value: expect.closeTo(0.34, 6) as number });
    expect(parseNumber("150 ms", "s")).toEqual({ value: expect.closeTo(0.15, 6) as number });
    expect(parseNumber("1.25s + 6f", "frames", 24)).toEqual({ value: 36 });
  });
  it("are named where one is not known", () => {
    expect(parseNumber("3 m + 2 parsec", "m")).toHaveProperty("error");
  });
  it("leave a unit at the end to the whole", () => {
    expect(parseNumber("132/4 cm", "m")).toEqual({ value: expect.closeTo(0.33, 6) as number });
  });
});
