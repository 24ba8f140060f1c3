import { describe, expect, it } from "vitest";
import { heldTopologies, readFrame, TopologyDropped } from "./frame";
import { packFrame as pack } from "./packFrame.fixture";

const points = new Uint16Array([1, 2, 3, 4]);
const normals = new Int16Array([-5, 6]);

describe("readFrame", () => {
  it("reads blocks, and keeps a topology for the frames after it", () => {
    const triangles = new Uint32Array([0, 1, 2]);
    const edges = new Uint32Array([0, 1]);
    const first = readFrame(pack({ topology: "t" }, { points, normals, triangles, edges }));
    expect([...first.points]).toEqual([1, 2, 3, 4]);
    expect([...first.normals!]).toEqual([-5, 6]);
    expect(first.mask).toBeNull();
    const second = readFrame(
      pack({ topology: "t" }, { points, normals, mask: new Uint8Array([9]) }),
    );
    expect([...second.mask!]).toEqual([9]);
    expect(second.topology).toBe(first.topology);
    expect([...second.topology.triangles]).toEqual([0, 1, 2]);
  });
  it("keeps only the last topologies", () => {
    for (let k = 0; k < 12; k++) {
      const triangles = new Uint32Array([k, 1, 2]);
      readFrame(
        pack({ topology: `t${k}` }, { points, normals, triangles, edges: new Uint32Array([0, 1]) }),
      );
    }
    expect(heldTopologies()).toHaveLength(8);
    const late = pack({ topology: "t0" }, { points, normals });
    expect(() => readFrame(late)).toThrow(TopologyDropped);
  });
  it("refuses what is no frame", () => {
    expect(() => readFrame(new ArrayBuffer(40))).toThrow("not a frame");
  });
});
