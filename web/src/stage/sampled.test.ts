import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { sampleFrom } from "./sampled";
import { lensPlace } from "./sampling";
import { aimAt, type ViewTold } from "./studyCamera";

const view: ViewTold = {
  position: [0, 0, 5],
  target: [0, 0, 0],
  up: [0, 1, 0],
  aspect: 1,
  angle: 30,
  height: null,
  near: null,
  far: null,
  lens_radius: 0.04,
  blades: 0,
  focus: 4,
  focus_on: "",
  shutter: 0.5,
};
const SIZE = { width: 1000, height: 1000 };
const COUNT = 64;

/** Where a point is in the picture from each place of the lens, in pixels from the middle. */
function seenFrom(z: number, own: ViewTold = view) {
  const camera = new THREE.PerspectiveCamera();
  aimAt(camera, own, 1, 1, 1);
  return Array.from({ length: COUNT }, (_, k) => {
    const restore = sampleFrom(camera, own, k, COUNT, SIZE);
    const { x, y } = new THREE.Vector3(0, 0, z).project(camera);
    restore();
    return [(x * SIZE.width) / 2, (y * SIZE.height) / 2] as const;
  });
}

describe("a sample of a picture", () => {
  it("leaves what is in focus within its pixel", () => {
    for (const [x, y] of seenFrom(1)) {
      expect(Math.abs(x)).toBeLessThanOrEqual(0.5 + 1e-6);
      expect(Math.abs(y)).toBeLessThanOrEqual(0.5 + 1e-6);
    }
  });

  it.each([2, -3])("blurs what is out of focus as a thin lens does (z = %f)", (z) => {
    const distance = 5 - z;
    // Circle of confusion on the plane in focus: 2 r |d - s| / d; in pixels by what that plane shows.
    const metres = (2 * view.lens_radius * Math.abs(distance - view.focus)) / distance;
    const seen = 2 * view.focus * Math.tan(((view.angle / 2) * Math.PI) / 180);
    const pixels = (metres / seen) * SIZE.height;
    // As far as the outermost of the places reaches, and half a pixel to each side.
    const reach = Math.max(
      ...Array.from({ length: COUNT }, (_, k) => Math.hypot(...lensPlace(k, COUNT, 0))),
    );
    const radius = Math.max(...seenFrom(z).map((p) => Math.hypot(...p)));
    expect(Math.abs(radius - (pixels / 2) * reach)).toBeLessThan(0.75);
  });

  it("leaves the camera as it was", () => {
    const camera = new THREE.PerspectiveCamera();
    aimAt(camera, view, 1, 1, 1);
    const before = [...camera.projectionMatrix.elements, ...camera.matrixWorld.elements];
    sampleFrom(camera, view, 5, COUNT, SIZE)();
    expect([...camera.projectionMatrix.elements, ...camera.matrixWorld.elements]).toEqual(before);
  });

  it("of an orthographic camera moves a part of a pixel only", () => {
    const camera = new THREE.OrthographicCamera();
    aimAt(camera, { ...view, height: 2 }, 1, 1, 1);
    sampleFrom(camera, view, 3, COUNT, SIZE);
    const { x } = new THREE.Vector3(0, 0, -1).project(camera);
    expect(Math.abs(x * 500)).toBeLessThanOrEqual(0.5 + 1e-6);
    expect(x).not.toBe(0);
  });
});
