/** Frames as the server packs them, for tests. */
export function packFrame(
  header: object,
  blocks: Record<string, ArrayBufferView & { length: number }>,
): ArrayBuffer {
  let offset = 0;
  const described = Object.entries(blocks).map(([name, data]) => {
    const type = data.constructor.name.replace("Array", "").toLowerCase();
    const entry = { name, type, shape: [data.length], offset };
    offset += Math.ceil(data.byteLength / 4) * 4;
    return entry;
  });
  let text = JSON.stringify({ look: { prints: [] }, ...header, blocks: described });
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
