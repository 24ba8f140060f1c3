import { describe, expect, it } from "vitest";
import { changeWords, countWords } from "./countWords";

describe("counts in words", () => {
  it("name faces, else curves, else points alone", () => {
    expect(countWords({ points: 10242, faces: 20480, curves: 0 })).toBe(
      "10,242 points · 20,480 faces",
    );
    expect(countWords({ points: 200, faces: 0, curves: 1 })).toBe("200 points · 1 curve");
    expect(countWords({ points: 1, faces: 0, curves: 0 })).toBe("1 loose point");
  });
});

describe("what a step did to the counts", () => {
  const of = (points: number, faces: number) => ({ points, faces });
  it("is said where they changed, in few characters", () => {
    expect(changeWords(undefined, of(9, 9))).toBe("");
    expect(changeWords(of(200, 0), of(200, 0))).toBe("");
    expect(changeWords(of(400, 0), of(6400, 6386))).toBe("→ 6.39k faces");
    expect(changeWords(of(400, 0), of(1638400, 0))).toBe("→ 1.64M points");
  });
});
