import { describe, expect, it } from "vitest";
import { readFrame, readTopology } from "./frame";
import { packFrame as pack } from "./packFrame.fixture";

const points = new Uint16Array([1, 2, 3, 4]);
const normals = new Int16Array([-5, 6]);
const faces = { triangles: new Uint32Array([0, 1, 2]), edges: new Uint32Array([0, 1]) };

describe("readFrame", () => {
  it("reads blocks, and gets the topology that is named", async () => {
    const known = readTopology(pack({ topology: "t", closed: true }, faces));
    const named: string[] = [];
    const data = await readFrame(
      pack({ topology: "t" }, { points, normals, mask: new Uint8Array([9]) }),
      (digest) => {
        named.push(digest);
        return Promise.resolve(known);
      },
    );
    expect(named).toEqual(["t"]);
    expect([...data.points]).toEqual([1, 2, 3, 4]);
    expect([...data.normals!]).toEqual([-5, 6]);
    expect([...data.mask!]).toEqual([9]);
    expect(data.exact).toBeNull();
    expect(data.topology).toBe(known);
    expect([...known.triangles]).toEqual([0, 1, 2]);
    expect(known.closed).toBe(true);
  });
  it("refuses what is no frame", async () => {
    await expect(readFrame(new ArrayBuffer(40), () => Promise.reject(new Error()))).rejects.toThrow(
      "not a frame",
    );
  });
});
