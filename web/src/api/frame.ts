/** Reads the binary frames that docs/wire.md describes. */

export interface FrameHeader {
  piece: string;
  frame: number;
  key: string;
  topology: string;
  points: number;
  /** Points that were sent; fewer where loose points are thinned. */
  drawn: number;
  faces: number;
  curves: number;
  /** Whether the surface has no border. */
  closed: boolean;
  low: [number, number, number];
  high: [number, number, number];
  place: number[];
  look: {
    by_value: boolean;
    colour: string;
    glow: number;
    roughness: number;
    flat: boolean;
    thickness: number;
  };
  steps: { id: string; ms: number; points: number; faces: number; reused: boolean }[];
  blocks: { name: string; type: string; shape: number[]; offset: number }[];
}

export interface Topology {
  digest: string;
  triangles: Uint32Array;
  edges: Uint32Array;
  /** Points that the curves join, in pairs. */
  segments: Uint32Array;
}

export interface FrameData {
  header: FrameHeader;
  /** Shared by all frames of one topology. */
  topology: Topology;
  points: Uint16Array;
  /** None where there are no faces. */
  normals: Int16Array | null;
  /** Unquantised points; sent where facets are shaded, since facets would show the steps. */
  exact: Float32Array | null;
  /** Points of the rest shape; sent where they were asked for. */
  rest: Float32Array | null;
  mask: Uint8Array | null;
  gradient: Uint8Array | null;
  bytes: number;
}

const TYPES = {
  uint8: Uint8Array,
  int16: Int16Array,
  uint16: Uint16Array,
  uint32: Uint32Array,
  float32: Float32Array,
} as const;

const kept = new Map<string, Topology>();
const KEPT_TOPOLOGIES = 8;

/** Topologies held, newest last; the server leaves out what is named here. */
export function heldTopologies(): string[] {
  return [...kept.keys()];
}

/** The frame came without its topology, which was dropped since it was asked for. */
export class TopologyDropped extends Error {}

function topologyOf(digest: string, blocks: Record<string, unknown>): Topology {
  const found = blocks.triangles
    ? {
        digest,
        triangles: blocks.triangles as Uint32Array,
        edges: blocks.edges as Uint32Array,
        segments: blocks.segments as Uint32Array,
      }
    : kept.get(digest);
  if (!found) throw new TopologyDropped("The faces of this frame are not here any more.");
  kept.delete(digest);
  kept.set(digest, found);
  while (kept.size > KEPT_TOPOLOGIES) kept.delete(kept.keys().next().value as string);
  return found;
}

/** @throws TopologyDropped; Error for bytes that are no frame */
export function readFrame(buffer: ArrayBuffer): FrameData {
  const view = new DataView(buffer);
  if (view.getUint32(0, false) !== 0x5a594746) throw new Error("This is not a frame.");
  const length = view.getUint32(8, true);
  const text = new TextDecoder().decode(new Uint8Array(buffer, 12, length));
  const header = JSON.parse(text) as FrameHeader;
  const blocks: Record<string, unknown> = {};
  for (const block of header.blocks) {
    const Type = TYPES[block.type as keyof typeof TYPES];
    const count = block.shape.reduce((a, b) => a * b, 1);
    blocks[block.name] = new Type(buffer, 12 + length + block.offset, count);
  }
  return {
    header,
    topology: topologyOf(header.topology, blocks),
    points: blocks.points as Uint16Array,
    normals: (blocks.normals as Int16Array | undefined) ?? null,
    exact: (blocks.exact as Float32Array | undefined) ?? null,
    rest: (blocks.rest as Float32Array | undefined) ?? null,
    mask: (blocks.mask as Uint8Array | undefined) ?? null,
    gradient: (blocks.gradient as Uint8Array | undefined) ?? null,
    bytes: buffer.byteLength,
  };
}
