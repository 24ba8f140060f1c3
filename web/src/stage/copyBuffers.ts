import type * as THREE from "three";
import type { Copies } from "../api/frame";
import { FrameBuffer, setChannels } from "./frameBuffers";
import type { SurfaceUniforms } from "./material";

/** The table of copies on the graphics card, which draws the mesh once for each of them. */
export class CopyBuffers {
  private readonly rows = new FrameBuffer(12, true);
  private readonly values = new FrameBuffer(1, true);
  private readonly mask = new FrameBuffer(1, true);
  private channels: FrameBuffer | null = null;
  private columns = 0;
  // The same arrays as long as the count stays, so that they are sent to the card only once.
  private noMask = new Uint8Array(0);
  private noValues = new Uint16Array(0);

  constructor(
    private readonly uniforms: SurfaceUniforms,
    private readonly geometries: THREE.BufferGeometry[],
  ) {}

  show(copies: Copies) {
    const { count } = copies;
    if (this.noMask.length !== count) {
      this.noMask = new Uint8Array(count);
      this.noValues = new Uint16Array(count);
    }
    const before = this.rows.buffer;
    this.rows.fill(copies.rows);
    // three.js holds a geometry to as many as its first buffer had, until it is disposed of; all at
    // once, because they share their points.
    if (this.rows.buffer !== before) for (const geometry of this.geometries) geometry.dispose();
    this.values.fill(copies.values ?? this.noValues);
    this.mask.fill(copies.mask ?? this.noMask);
    const columns = copies.channels ? copies.channels.length / count : 0;
    if (copies.channels && this.columns !== columns) {
      this.columns = columns;
      this.channels = new FrameBuffer(columns, true);
    }
    if (copies.channels) this.channels?.fill(copies.channels);
    for (const geometry of this.geometries as THREE.InstancedBufferGeometry[]) {
      for (const row of [0, 1, 2])
        geometry.setAttribute(`row${row}`, this.rows.attribute(4, true, 4 * row));
      geometry.setAttribute("copyValue", this.values.attribute(1, true));
      geometry.setAttribute("copyMask", this.mask.attribute(1, true));
      setChannels(geometry, "copyChannels", copies.channels ? this.channels : null, columns);
      geometry.instanceCount = count;
    }
    const { uLinear, uMiddle, uHalf, uCopyMask } = this.uniforms;
    uLinear.value = copies.linear;
    uMiddle.value.fromArray(copies.middle);
    uHalf.value.fromArray(copies.half);
    uCopyMask.value = copies.mask ? 1 : 0;
  }
}
