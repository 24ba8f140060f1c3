import * as THREE from "three";

/** How much more room than needed there is, once a count has been seen to change. */
const ROOM = 1.5;

function withRoom<A extends THREE.TypedArray>(array: A, stride = 1): A {
  const Kind = array.constructor as new (length: number) => A;
  const made = new Kind(Math.ceil((array.length * ROOM) / stride) * stride);
  made.set(array);
  return made;
}

/** A buffer on the graphics card that is written over from frame to frame, not made anew. */
export class FrameBuffer {
  buffer: THREE.InterleavedBuffer;
  /**
   * Whether the count changes from frame to frame. The array is then the buffer's own, with room for
   * more; before, it is a frame's, which belongs to whoever keeps it and is not written over.
   */
  private own = false;

  /** instanced : of copies, one entry for each of them instead of for each point */
  constructor(
    private stride: number,
    private instanced = false,
  ) {
    this.buffer = this.made(new Float32Array(0));
  }

  private made(array: THREE.TypedArray) {
    const Kind = this.instanced ? THREE.InstancedInterleavedBuffer : THREE.InterleavedBuffer;
    return new Kind(array, this.stride);
  }

  fill(array: THREE.TypedArray) {
    const { array: held } = this.buffer;
    const alike = array.constructor === held.constructor;
    if (alike && array.length === held.length) {
      if (array === held) return;
      if (this.own) held.set(array);
      else this.buffer.array = array;
      this.buffer.clearUpdateRanges();
      this.buffer.needsUpdate = true;
      return;
    }
    const grows = alike && held.length > 0 && array.length > 0;
    if (!grows || !this.own || array.length > held.length) {
      this.own = grows;
      this.buffer = this.made(grows ? withRoom(array, this.stride) : array);
      this.buffer.setUsage(THREE.DynamicDrawUsage);
      return;
    }
    held.set(array);
    this.buffer.clearUpdateRanges();
    this.buffer.addUpdateRange(0, array.length);
    this.buffer.needsUpdate = true;
  }

  attribute(size: number, normalized = false, offset = 0) {
    return new THREE.InterleavedBufferAttribute(this.buffer, size, offset, normalized);
  }
}

/**
 * The point numbers of a topology on the graphics card. The first is taken as it is; where another
 * follows, it is written over with room for more, not made anew.
 */
export class IndexBuffer {
  attribute = new THREE.BufferAttribute(new Uint32Array(0), 1);
  count = 0;
  private own = false;

  fill(array: Uint32Array) {
    const first = this.count === 0;
    this.count = array.length;
    if (first) {
      this.attribute = new THREE.BufferAttribute(array, 1);
      this.own = false;
      return;
    }
    if (!this.own || array.length > this.attribute.array.length) {
      this.attribute = new THREE.BufferAttribute(withRoom(array), 1);
      this.attribute.setUsage(THREE.DynamicDrawUsage);
      this.own = true;
      return;
    }
    this.attribute.array.set(array);
    this.attribute.clearUpdateRanges();
    this.attribute.addUpdateRange(0, array.length);
    this.attribute.needsUpdate = true;
  }
}

/** Gives a geometry the channels of a buffer, four abreast; none where there is no buffer. */
export function setChannels(
  geometry: THREE.BufferGeometry,
  name: string,
  buffer: FrameBuffer | null,
  columns: number,
) {
  for (const [k, letter] of ["A", "B"].entries()) {
    if (buffer && columns > 4 * k)
      geometry.setAttribute(name + letter, buffer.attribute(4, true, 4 * k));
    else geometry.deleteAttribute(name + letter);
  }
}
