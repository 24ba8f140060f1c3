import { describe, expect, it } from "vitest";
import { readFrame, readTopology } from "./frame";
import { packFrame as pack } from "./packFrame.fixture";

const hung = () => Promise.reject(new Error("no pictures here"));
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
      hung,
    );
    expect(named).toEqual(["t"]);
    const [mesh] = data.meshes;
    expect([...mesh.points]).toEqual([1, 2, 3, 4]);
    expect([...mesh.normals!]).toEqual([-5, 6]);
    expect([...mesh.mask!]).toEqual([9]);
    expect(mesh.exact).toBeNull();
    expect(mesh.topology).toBe(known);
    expect([...known.triangles]).toEqual([0, 1, 2]);
    expect(known.closed).toBe(true);
  });
  it("gives each base of a table its own copies", async () => {
    const base = (topology: string, first: number, count: number) => ({
      topology,
      low: [0, 0, 0],
      high: [1, 1, 1],
      first,
      count,
    });
    const copies = {
      count: 3,
      linear: 2,
      middle: [1, 0, 0],
      half: [4, 0, 0],
      colour_by: "copy",
      colour_low: 0,
      colour_high: 1,
      bases: [base("a", 0, 1), base("b", 1, 2)],
    };
    const frame = pack(
      { topology: "a", copies },
      {
        "0/points": points,
        "1/points": points,
        placements: Int16Array.from({ length: 36 }, (_, k) => k),
        copy_values: new Uint16Array([7, 8, 9]),
      },
    );
    const { meshes } = await readFrame(
      frame,
      (digest) => Promise.resolve(readTopology(pack({ topology: digest, closed: true }, faces))),
      hung,
    );
    expect(meshes.map((m) => m.topology.digest)).toEqual(["a", "b"]);
    expect(meshes.map((m) => m.copies?.count)).toEqual([1, 2]);
    expect([...meshes[1].copies!.rows.slice(0, 3)]).toEqual([12, 13, 14]);
    expect([...meshes[1].copies!.values!]).toEqual([8, 9]);
    expect(meshes[1].copies!.mask).toBeNull();
  });
  it("refuses what is no frame", async () => {
    const lost = () => Promise.reject(new Error());
    await expect(readFrame(new ArrayBuffer(40), lost, hung)).rejects.toThrow("not a frame");
  });
  it("waits for the pictures that its looks name", async () => {
    const picture = {} as ImageBitmap;
    const asked: string[] = [];
    const frame = pack(
      { topology: "t", look: { prints: [{ picture: null }, { picture: "/a" }] } },
      { points, normals, uvs: new Float32Array([0.25, 0.5]) },
    );
    const data = await readFrame(
      frame,
      () => Promise.resolve(readTopology(pack({ topology: "t", closed: true }, faces))),
      (address) => {
        asked.push(address);
        return Promise.resolve(picture);
      },
    );
    expect(asked).toEqual(["/a"]);
    expect(data.pictures).toEqual([null, picture]);
    expect([...data.meshes[0].uvs!]).toEqual([0.25, 0.5]);
    expect(data.meshes[0].atRest).toBeNull();
  });
});
