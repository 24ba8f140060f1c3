import { unzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { packed } from "./packed";

const file = (name: string, ...bytes: number[]) => new File([new Uint8Array(bytes)], name);

describe("files that are sent as one", () => {
  it("are a clip or a ZIP as it is", async () => {
    const clip = file("a.mp4", 1, 2);
    expect(await packed([clip])).toBe(clip);
  });

  it("are pictures in a ZIP, and nothing else of their folder", async () => {
    const made = await packed([file("b_10.png", 3), file("notes.txt", 9), file("b_2.png", 4, 5)]);
    const found = unzipSync(new Uint8Array(await made.arrayBuffer()));
    expect(Object.fromEntries(Object.entries(found).map(([k, v]) => [k, [...v]]))).toEqual({
      "b_10.png": [3],
      "b_2.png": [4, 5],
    });
  });
});
