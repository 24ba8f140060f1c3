import { describe, expect, it } from "vitest";
import { heldTopologies, readFrame, topologyOf } from "./frame";

function pack(header: object, blocks: Record<string, ArrayBufferView & { length: number }>) {
  let offset = 0;
  const described = Object.entries(blocks).map(([name, data]) => {
    const type = data.constructor.name.replace("Array", "").toLowerCase();
    const entry = { name, type, shape: [data.length], offset };
    offset += Math.ceil(data.byteLength / 4) * 4;
    return entry;
  });
  let text = JSON.stringify({ ...header, blocks: described });
  text = text.padEnd(Math.ceil(text.length / 4) * 4);
  const buffer = new ArrayBuffer(12 + text.length + offset);
  const bytes = new Uint8Array(buffer);
  bytes.set(new TextEncoder().encode("ZYGF"), 0);
  new DataView(buffer).setUint32(4, 1, true);
  new DataView(buffer).setUint32(8, text.length, true);
  bytes.set(new TextEncoder().encode(text), 12);
  Object.values(blocks).forEach((data, k) =>
    bytes.set(
      new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
      12 + text.length + described[k].offset,
    ),
  );
  return buffer;
}

const points = new Uint16Array([1, 2, 3, 4]);
const normals = new Int16Array([-5, 6]);

describe("readFrame", () => {
  it("reads blocks, and keeps a topology for the frames after it", () => {
    const triangles = new Uint32Array([0, 1, 2]);
    const edges = new Uint32Array([0, 1]);
    const first = readFrame(pack({ topology: "t" }, { points, normals, triangles, edges }));
    expect([...first.points]).toEqual([1, 2, 3, 4]);
    expect([...first.normals]).toEqual([-5, 6]);
    expect(first.mask).toBeNull();
    const second = readFrame(
      pack({ topology: "t" }, { points, normals, mask: new Uint8Array([9]) }),
    );
    expect([...second.mask!]).toEqual([9]);
    expect([...topologyOf("t")!.triangles]).toEqual([0, 1, 2]);
  });
  it("keeps only the last topologies", () => {
    for (let k = 0; k < 12; k++) {
      const triangles = new Uint32Array([k, 1, 2]);
      readFrame(
        pack({ topology: `t${k}` }, { points, normals, triangles, edges: new Uint32Array([0, 1]) }),
      );
    }
    expect(heldTopologies()).toHaveLength(8);
    expect(topologyOf("t0")).toBeUndefined();
  });
  it("refuses what is no frame", () => {
    expect(() => readFrame(new ArrayBuffer(40))).toThrow("not a frame");
  });
});
