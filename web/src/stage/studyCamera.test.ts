import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { aimAt, corners, fovOf, frameWithin, type ViewTold } from "./studyCamera";

const view: ViewTold = {
  position: [1, 2, 5],
  target: [0, 0.5, 0],
  up: [0, 1, 0],
  aspect: 16 / 9,
  angle: 40,
  height: null,
  near: null,
  far: null,
  lens_radius: 0,
  blades: 0,
  focus: 3,
  focus_on: "",
  shutter: 0.5,
};

describe("the picture of a camera on the stage", () => {
  it.each([
    [{ width: 900, height: 500 }, 16 / 9],
    [{ width: 900, height: 500 }, 9 / 16],
    [{ width: 400, height: 900 }, 2.39],
  ])("keeps its format in %j", (size, aspect) => {
    const found = frameWithin(size, aspect);
    const [wide, high] = [found.width * size.width, found.height * size.height];
    expect(wide / high).toBeCloseTo(aspect);
    expect(Math.max(found.width, found.height)).toBeCloseTo(0.94);
  });

  it("fills a stage of its own format whole where no room is left", () => {
    expect(frameWithin({ width: 160, height: 90 }, 16 / 9, 1)).toEqual({ width: 1, height: 1 });
    expect(fovOf(32, 1)).toBeCloseTo(32);
  });

  it.each([null, 1.4])("has its corners at the rims of the frame (height %s)", (height) => {
    const own = { ...view, height };
    const camera = height ? new THREE.OrthographicCamera() : new THREE.PerspectiveCamera();
    const across = 1.3;
    const share = frameWithin({ width: across, height: 1 }, own.aspect);
    aimAt(camera, own, share.height, across, 1);
    const far = corners(own, 3).slice(4);
    const seen = far.map((corner) => corner.project(camera));
    expect(seen.map((p) => [Math.abs(p.x), Math.abs(p.y)]).flat()).toEqual(
      seen.flatMap(() => [expect.closeTo(share.width, 5), expect.closeTo(share.height, 5)]),
    );
    expect(seen.every((p) => Math.abs(p.z) < 1)).toBe(true);
  });
});
