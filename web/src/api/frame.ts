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
  /** Whether the surface has no border. */
  closed: boolean;
  triangles: Uint32Array;
  edges: Uint32Array;
  /** Points that the curves join, in pairs. */
  segments: Uint32Array;
  bytes: number;
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
  mask: Uint8Array | null;
  gradient: Uint8Array | null;
  bytes: number;
}

/** The bytes are not what docs/wire.md describes. */
function notAFrame(): Error {
  return new Error("This is not a frame.");
}

const TYPES = {
  uint8: Uint8Array,
  int16: Int16Array,
  uint16: Uint16Array,
  uint32: Uint32Array,
  float32: Float32Array,
} as const;

interface Packed {
  header: { blocks: { name: string; type: string; shape: number[]; offset: number }[] };
  blocks: Record<string, unknown>;
}

function unpack(buffer: ArrayBuffer): Packed {
  const view = new DataView(buffer);
  if (view.getUint32(0, false) !== 0x5a594746) throw notAFrame();
  const length = view.getUint32(8, true);
  const text = new TextDecoder().decode(new Uint8Array(buffer, 12, length));
  const header = JSON.parse(text) as Packed["header"];
  const blocks: Record<string, unknown> = {};
  for (const block of header.blocks) {
    const Type = TYPES[block.type as keyof typeof TYPES];
    const count = block.shape.reduce((a, b) => a * b, 1);
    blocks[block.name] = new Type(buffer, 12 + length + block.offset, count);
  }
  return { header, blocks };
}

/** What the frames of one topology have in common. @throws Error for bytes that are none */
export function readTopology(buffer: ArrayBuffer): Topology {
  const { header, blocks } = unpack(buffer);
  const { topology, closed } = header as unknown as { topology: string; closed: boolean };
  return {
    digest: topology,
    closed,
    triangles: blocks.triangles as Uint32Array,
    edges: blocks.edges as Uint32Array,
    segments: blocks.segments as Uint32Array,
    bytes: buffer.byteLength,
  };
}

/** A frame, and its topology by its name. @throws Error for bytes that are no frame */
export async function readFrame(
  buffer: ArrayBuffer,
  topologyOf: (digest: string) => Promise<Topology>,
): Promise<FrameData> {
  const { header: read, blocks } = unpack(buffer);
  const header = read as unknown as FrameHeader;
  return {
    header,
    topology: await topologyOf(header.topology),
    points: blocks.points as Uint16Array,
    normals: (blocks.normals as Int16Array | undefined) ?? null,
    exact: (blocks.exact as Float32Array | undefined) ?? null,
    mask: (blocks.mask as Uint8Array | undefined) ?? null,
    gradient: (blocks.gradient as Uint8Array | undefined) ?? null,
    bytes: buffer.byteLength,
  };
}

/** The rest shape alone of a frame that was asked for with it. */
export function restOf(buffer: ArrayBuffer): Float32Array | null {
  return (unpack(buffer).blocks.rest as Float32Array | undefined) ?? null;
}
