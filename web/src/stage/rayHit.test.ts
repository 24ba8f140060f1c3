import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { hitPoint, hitTriangle, mixed, normalAt } from "./rayHit";

const points = new Float32Array([0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, -1, 2, 0, -1, 0, 2, -1]);
const triangles = new Uint32Array([3, 4, 5, 0, 1, 2]);
const down = (x: number, y: number) =>
  new THREE.Ray(new THREE.Vector3(x, y, 5), new THREE.Vector3(0, 0, -1));

describe("a ray on a mesh", () => {
  it("meets the nearest triangle and tells the shares of its corners", () => {
    const hit = hitTriangle(points, triangles, down(0.5, 1))!;
    expect(hit.corners).toEqual([0, 1, 2]);
    expect(hit.distance).toBeCloseTo(5);
    expect(mixed(points, hit).toArray()).toEqual([0.5, 1, 0]);
    expect(normalAt(points, hit).toArray()).toEqual([0, 0, 1]);
  });
  it("misses beside it and behind its origin", () => {
    expect(hitTriangle(points, triangles, down(3, 3))).toBeNull();
    const away = new THREE.Ray(new THREE.Vector3(0.5, 1, 5), new THREE.Vector3(0, 0, 1));
    expect(hitTriangle(points, triangles, away)).toBeNull();
  });
  it("takes the point that is nearest to it where there are no faces", () => {
    expect(hitPoint(points, down(2, 0))!.corners[0]).toBe(1);
    expect(hitPoint(points, down(1, 1))).toBeNull();
  });
});
