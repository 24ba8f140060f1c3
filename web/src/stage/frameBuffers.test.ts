import { expect, it } from "vitest";
import { FrameBuffer, IndexBuffer } from "./frameBuffers";

it("frames of one count are taken as they are", () => {
  const buffer = new FrameBuffer(4);
  const [first, second] = [new Uint16Array(8), new Uint16Array(8)];
  buffer.fill(first);
  const made = buffer.buffer;
  buffer.fill(second);
  expect(buffer.buffer).toBe(made);
  expect(made.array).toBe(second);
});

it("a count that changes is given room, and the buffer is made anew only beyond it", () => {
  const buffer = new FrameBuffer(4);
  buffer.fill(new Uint16Array(400));
  buffer.fill(new Uint16Array(404).fill(7));
  const made = buffer.buffer;
  expect(made.array.length % 4).toBe(0);
  for (const count of [420, 600, 40, 404]) {
    const frame = new Uint16Array(count).fill(count);
    buffer.fill(frame);
    expect(buffer.buffer).toBe(made);
    expect([...made.array.slice(0, count)]).toEqual([...frame]);
    // The frame itself belongs to whoever keeps it.
    expect(made.array).not.toBe(frame);
  }
  buffer.fill(new Uint16Array(4000));
  expect(buffer.buffer).not.toBe(made);
});

it("a frame with fewer than the first does not write into the first", () => {
  const buffer = new FrameBuffer(4);
  const [many, few] = [new Uint16Array(24).fill(6), new Uint16Array(8).fill(2)];
  buffer.fill(many);
  buffer.fill(few);
  expect([...buffer.buffer.array.slice(0, 8)]).toEqual([...few]);
  expect([...many]).toEqual([...new Uint16Array(24).fill(6)]);
  buffer.fill(many);
  expect([...buffer.buffer.array.slice(0, 24)]).toEqual([...many]);
});

it("another kind of number is another buffer", () => {
  const buffer = new FrameBuffer(3);
  buffer.fill(new Uint16Array(3));
  buffer.fill(new Float32Array(3).fill(0.5));
  expect([...buffer.buffer.array]).toEqual([0.5, 0.5, 0.5]);
});

it("a topology that follows another does not write into it", () => {
  const index = new IndexBuffer();
  const [one, other] = [new Uint32Array([0, 1, 2]), new Uint32Array([2, 1, 0, 3, 2, 1])];
  index.fill(one);
  index.fill(other);
  const made = index.attribute;
  index.fill(one);
  expect(index.attribute).toBe(made);
  expect(index.count).toBe(3);
  expect([...made.array.slice(0, 3)]).toEqual([0, 1, 2]);
  expect([...other]).toEqual([2, 1, 0, 3, 2, 1]);
});
