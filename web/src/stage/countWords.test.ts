import { describe, expect, it } from "vitest";
import { countWords } from "./countWords";

describe("counts in words", () => {
  it("name faces, else curves, else points alone", () => {
    expect(countWords({ points: 10242, faces: 20480, curves: 0 })).toBe(
      "10,242 points · 20,480 faces",
    );
    expect(countWords({ points: 200, faces: 0, curves: 1 })).toBe("200 points · 1 curve");
    expect(countWords({ points: 1, faces: 0, curves: 0 })).toBe("1 point · no faces");
  });
});
