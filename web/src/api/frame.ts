/** Reads the binary frames that docs/wire.md describes. */
import type { Schemas } from "./client";

export type FrameHeader = Schemas["FrameHeader"];
export type LookHeader = Schemas["LookHeader"];
type TopologyHeader = Schemas["TopologyHeader"];
type Block = Schemas["Block"];
/** Of a box, or of a scale by axis. */
export type Triple = number[];

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

/** Copies of one mesh: where they are, and what colours them. */
export interface Copies {
  count: number;
  /** Three rows of four numbers for each, of which the first three are shares of `linear` and the
   * last is a share of `half` from `middle`. */
  rows: Int16Array;
  linear: number;
  middle: Triple;
  half: Triple;
  /** The finest channel of the copies, and the others, four or eight for each copy. */
  values: Uint16Array | null;
  channels: Uint8Array | null;
  mask: Uint8Array | null;
}

/** One mesh of a frame: the piece itself, or one that is copied. */
export interface FrameMesh {
  /** Shared by all frames of one topology. */
  topology: Topology;
  low: Triple;
  high: Triple;
  points: Uint16Array;
  /** None where there are no faces. */
  normals: Int16Array | null;
  /** Unquantised points; sent where facets are shaded, since facets would show the steps. */
  exact: Float32Array | null;
  mask: Uint8Array | null;
  /** Channels besides the finest, which is beside the points; four or eight for each point. */
  channels: Uint8Array | null;
  /** What patterns and pictures lie by: two numbers, and three, of each point. */
  uvs: Float32Array | null;
  atRest: Float32Array | null;
  copies: Copies | null;
}

export interface FrameData {
  header: FrameHeader;
  meshes: FrameMesh[];
  /** Rows of colours, and of what becomes of what is seen from somewhere. */
  gradients: Uint8Array | null;
  tables: Uint8Array | null;
  /** Of each print of the look, null of patterns. */
  pictures: (ImageBitmap | null)[];
  /** By which its surface is shaded. */
  sphere: ImageBitmap | null;
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
  header: { blocks: Block[] };
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
    const Type = TYPES[block.type];
    const count = block.shape.reduce((a, b) => a * b, 1);
    blocks[block.name] = new Type(buffer, 12 + length + block.offset, count);
  }
  return { header, blocks };
}

/** What the frames of one topology have in common. @throws Error for bytes that are none */
export function readTopology(buffer: ArrayBuffer): Topology {
  const { header, blocks } = unpack(buffer);
  const { topology, closed } = header as TopologyHeader;
  return {
    digest: topology,
    closed,
    triangles: blocks.triangles as Uint32Array,
    edges: blocks.edges as Uint32Array,
    segments: blocks.segments as Uint32Array,
    bytes: buffer.byteLength,
  };
}

/** A frame, and its topology and pictures by their names. @throws Error for bytes that are no frame */
export async function readFrame(
  buffer: ArrayBuffer,
  topologyOf: (digest: string) => Promise<Topology>,
  pictureOf: (address: string) => Promise<ImageBitmap>,
): Promise<FrameData> {
  const { header: read, blocks } = unpack(buffer);
  const header = read as FrameHeader;
  const block = <A>(name: string) => (blocks[name] as A | undefined) ?? null;
  const mesh = (prefix: string): Omit<FrameMesh, "topology" | "low" | "high" | "copies"> => ({
    points: blocks[`${prefix}points`] as Uint16Array,
    normals: block<Int16Array>(`${prefix}normals`),
    exact: block<Float32Array>(`${prefix}exact`),
    mask: block<Uint8Array>(`${prefix}mask`),
    channels: block<Uint8Array>(`${prefix}channels`),
    uvs: block<Float32Array>(`${prefix}uvs`),
    atRest: block<Float32Array>(`${prefix}at_rest`),
  });
  const { low, high, topology, copies } = header;
  const meshes: Promise<FrameMesh>[] = copies
    ? copies.bases.map(async (base, number) => {
        const { first, count } = base;
        return {
          ...mesh(`${number}/`),
          topology: await topologyOf(base.topology),
          low: base.low,
          high: base.high,
          copies: {
            count,
            rows: (blocks.placements as Int16Array).subarray(12 * first, 12 * (first + count)),
            linear: copies.linear,
            middle: copies.middle,
            half: copies.half,
            values: block<Uint16Array>("copy_values")?.subarray(first, first + count) ?? null,
            channels: ofCopies(block<Uint8Array>("copy_channels"), copies.count, first, count),
            mask: block<Uint8Array>("copy_mask")?.subarray(first, first + count) ?? null,
          },
        };
      })
    : [
        topologyOf(topology).then((own) => ({
          ...mesh(""),
          topology: own,
          low,
          high,
          copies: null,
        })),
      ];
  const hung = header.look.prints.map(({ picture }) =>
    picture ? pictureOf(picture) : Promise.resolve(null),
  );
  return {
    header,
    meshes: await Promise.all(meshes),
    pictures: await Promise.all(hung),
    sphere: header.look.sphere ? await pictureOf(header.look.sphere) : null,
    gradients: block<Uint8Array>("gradients"),
    tables: block<Uint8Array>("tables"),
    bytes: buffer.byteLength,
  };
}

/** The rows of some of the copies. */
function ofCopies(bytes: Uint8Array | null, all: number, first: number, count: number) {
  if (!bytes) return null;
  const columns = bytes.length / all;
  return bytes.subarray(columns * first, columns * (first + count));
}

/** The rest shape alone of a frame that was asked for with it. */
export function restOf(buffer: ArrayBuffer): Float32Array | null {
  return (unpack(buffer).blocks.rest as Float32Array | undefined) ?? null;
}
