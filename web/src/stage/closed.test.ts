import { describe, expect, it } from "vitest";
import type { FrameData, FrameHeader, Topology } from "../api/frame";
import { isClosedOutward } from "./closed";

const shares = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const points = new Uint16Array(shares.flatMap((p) => [...p.map((v) => v * 65535), 0]));
const outward = [0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3];

function isClosed(triangles: number[], closed: boolean, low = [5, 5, 5], high = [6, 7, 8]) {
  const header = { closed, low, high } as FrameHeader;
  const topology = { triangles: new Uint32Array(triangles) } as Topology;
  return isClosedOutward({ header, points } as FrameData, topology);
}

describe("isClosedOutward", () => {
  it("is so for a closed surface, wherever it stands", () => {
    expect(isClosed(outward, true)).toBe(true);
    expect(isClosed(outward, true, [-90, 0, 3], [-89, 1, 3.5])).toBe(true);
  });
  it("is not so for one that is turned inside out", () => {
    expect(isClosed([...outward].reverse(), true)).toBe(false);
  });
  it("is not so for one with a border, or with no room inside", () => {
    expect(isClosed(outward.slice(3), false)).toBe(false);
    expect(isClosed(outward, true, [0, 0, 0], [1, 1, 0])).toBe(false);
  });
});
