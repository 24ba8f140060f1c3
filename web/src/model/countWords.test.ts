import { describe, expect, it } from "vitest";
import { changeInFull, changeWords, countWords, volumeWords } from "./countWords";

describe("counts in words", () => {
  it("name faces, else curves, else points alone", () => {
    expect(countWords({ points: 10242, faces: 20480, curves: 0, copies: 0 })).toBe(
      "10,242 points · 20,480 faces",
    );
    expect(countWords({ points: 200, faces: 0, curves: 1, copies: 0 })).toBe(
      "200 points · 1 curve",
    );
    expect(countWords({ points: 800, faces: 600, curves: 0, copies: 0, shards: 24 })).toBe(
      "800 points · 600 faces · 24 shards",
    );
    expect(countWords({ points: 1, faces: 0, curves: 0, copies: 0 })).toBe("1 loose point");
    expect(countWords({ points: 800, faces: 600, curves: 0, copies: 100 })).toBe(
      "100 copies · 800 points · 600 faces",
    );
  });
});

describe("counts before and after a step", () => {
  const of = (points: number, faces: number, copies = 0) => ({ points, faces, copies });
  it("are told in full where they differ", () => {
    expect(changeInFull(undefined, of(9, 9))).toBe("");
    expect(changeInFull(of(642, 1280), of(1280, 642))).toBe(
      "642 → 1,280 points, 1,280 → 642 faces",
    );
    expect(changeInFull(of(8, 6), of(800, 600, 100))).toBe("100 copies of 8 points");
    expect(changeInFull(of(800, 600, 100), of(800, 600))).toBe("100 copies → 800 points");
    expect(changeInFull(of(8, 6, 2), of(16, 12, 4))).toBe(
      "8 → 16 points, 6 → 12 faces, 2 → 4 copies",
    );
  });
});

describe("what a step did to the counts", () => {
  const of = (points: number, faces: number, copies = 0) => ({ points, faces, copies });
  it("is said where they changed, in few characters", () => {
    expect(changeWords(undefined, of(9, 9))).toBe("");
    expect(changeWords(of(200, 0), of(200, 0))).toBe("");
    expect(changeWords(of(400, 0), of(6400, 6386))).toBe("→ 6.39k faces");
    expect(changeWords(of(400, 0), of(1638400, 0))).toBe("→ 1.64M points");
    expect(changeWords(of(8, 6), of(800, 600, 100))).toBe("→ 100 copies");
    expect(changeWords(of(800, 600, 100), of(800, 600))).toBe("→ 800 points");
  });
});

describe("what smoothing does to the volume", () => {
  it("is told from half a percent on", () => {
    expect(volumeWords(-0.083)).toBe("8.3 % of the volume is lost");
    expect(volumeWords(-0.25)).toBe("25 % of the volume is lost");
    expect(volumeWords(0.021)).toBe("2.1 % more volume");
    expect(volumeWords(-0.004)).toBe("");
    expect(volumeWords(null)).toBe("");
  });
});
