import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type * as THREE from "three";
import type { OffscreenBuffer } from "./offscreenBuffer";
import { shading } from "./beforeView";
import { MadeReady } from "./madeReady";
import { useDetail } from "./useDetail";

const size = { width: 800, height: 600 };

describe("MadeReady", () => {
  let shaders = 3;
  /** How the pieces were shaded, picture by picture. */
  let drawn: boolean[] = [];
  let quick = false;
  const gl = {
    info: {
      get programs() {
        return Array.from({ length: shaders });
      },
    },
    shadowMap: { needsUpdate: false },
  } as unknown as THREE.WebGLRenderer;
  const buffer = {
    busy: false,
    picture: () => {
      drawn.push(quick);
      shaders += 1;
      return Promise.reject(new Error("no memory"));
    },
  } as unknown as OffscreenBuffer;
  const shade = (asQuick: boolean) => (quick = asQuick);

  beforeEach(() => {
    vi.useFakeTimers();
    shaders = 3;
    drawn = [];
    useDetail.setState({ moving: false });
    shading.add(shade);
  });
  afterEach(() => {
    shading.delete(shade);
    vi.useRealTimers();
  });

  it("draws one quick picture once nothing is drawn any more, and leaves the shading in full", () => {
    const ready = new MadeReady(buffer);
    ready.after(gl, size, vi.fn());
    ready.after(gl, size, vi.fn());
    expect(drawn).toEqual([]);
    vi.runAllTimers();
    expect(drawn).toEqual([true]);
    expect(quick).toBe(false);
  });
  it("does so again only where there are shaders that were not there", () => {
    const ready = new MadeReady(buffer);
    ready.after(gl, size, vi.fn());
    vi.runAllTimers();
    ready.after(gl, size, vi.fn());
    vi.runAllTimers();
    expect(drawn).toHaveLength(1);
    shaders += 1;
    ready.after(gl, size, vi.fn());
    vi.runAllTimers();
    expect(drawn).toHaveLength(2);
  });
  it("keeps out of the way of what moves", () => {
    const ready = new MadeReady(buffer);
    ready.after(gl, size, vi.fn());
    ready.stop();
    vi.runAllTimers();
    ready.after(gl, size, vi.fn());
    useDetail.setState({ moving: true });
    vi.runAllTimers();
    expect(drawn).toEqual([]);
  });
});
