import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { acrossView, aim, fitted, zoomed, type FlatView } from "./flatView";

const VIEWS: FlatView[] = ["front", "side", "top"];
const BOX = new THREE.Box3(new THREE.Vector3(-1, 0, -3), new THREE.Vector3(1, 0.5, 3));

function seen(view: FlatView, flat: ReturnType<typeof fitted>, place: THREE.Vector3) {
  const camera = new THREE.OrthographicCamera();
  aim(camera, view, flat, 400, 300, 50);
  return place.clone().project(camera);
}

describe("flat views", () => {
  it("fitting shows the whole box in every view, and fills one of them", () => {
    const flat = fitted(BOX, VIEWS, 400, 300);
    let farthest = 0;
    for (const view of VIEWS) {
      for (const place of [BOX.min, BOX.max]) {
        const { x, y } = seen(view, flat, place);
        farthest = Math.max(farthest, Math.abs(x), Math.abs(y));
      }
    }
    expect(farthest).toBeLessThan(1);
    expect(farthest).toBeGreaterThan(0.7);
  });

  it("the top shows x to the right and z towards the bottom; the side shows the front at its left", () => {
    const flat = { centre: new THREE.Vector3(), perPixel: 0.01 };
    expect(seen("top", flat, new THREE.Vector3(1, 0, 0)).x).toBeGreaterThan(0);
    expect(seen("top", flat, new THREE.Vector3(0, 0, 1)).y).toBeLessThan(0);
    expect(seen("side", flat, new THREE.Vector3(0, 0, 1)).x).toBeLessThan(0);
    expect(seen("front", flat, new THREE.Vector3(0, 1, 0)).y).toBeGreaterThan(0);
  });

  it("a metre across a view is a metre on the screen", () => {
    const flat = { centre: new THREE.Vector3(0.3, 1, -2), perPixel: 0.01 };
    for (const view of VIEWS) {
      const place = flat.centre.clone().add(acrossView(view, 0.5, -0.25));
      const { x, y } = seen(view, flat, place);
      expect(x).toBeCloseTo(0.5 / (400 * 0.01 * 0.5));
      expect(y).toBeCloseTo(-0.25 / (300 * 0.01 * 0.5));
    }
  });

  it("zooming keeps what is under the pointer", () => {
    const before = { centre: new THREE.Vector3(1, 2, 3), perPixel: 0.01 };
    const place = before.centre.clone().add(acrossView("side", 0.7, 0.2));
    const after = zoomed(before, "side", 0.8, 0.7, 0.2);
    const [a, b] = [before, after].map((flat) => seen("side", flat, place));
    expect(b.x).toBeCloseTo(a.x);
    expect(b.y).toBeCloseTo(a.y);
    expect(after.perPixel).toBeCloseTo(0.008);
  });
});
