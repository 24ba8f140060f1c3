import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { Grip } from "../api/client";
import { alongOf, footOf, frameOf, gimbalAxes, partOf, readOf, unwound } from "./gripPlaces";

const read = {
  number: (name: string) => ({ height: 2, radius: 0.5 })[name] ?? 0,
  triple: (name: string) =>
    ({ centre: [1, 2, 3], move: [0, 1, 0], axis: [0, 0, 5], none: [0, 0, 0] })[name] as [
      number,
      number,
      number,
    ],
};
const grip = (more: Partial<Grip>): Grip => ({
  kind: "reach",
  value: "radius",
  along: [1, 0, 0],
  per: 1,
  round: null,
  foot: [],
  beside: false,
  turned: null,
  ...more,
});

describe("places of grips", () => {
  it("reads a value, or a component of one", () => {
    expect(partOf("size/2")).toEqual({ name: "size", component: 2 });
    expect(readOf(read, "centre/2")).toBe(3);
    expect(readOf(read, "height")).toBe(2);
  });

  it("adds up what its foot names", () => {
    const foot = [
      { value: "centre", times: null },
      { value: "height", times: [0, 0.5, 0] as [number, number, number] },
    ];
    expect(footOf(grip({ foot }), read).toArray()).toEqual([1, 3, 3]);
    expect(footOf(grip({}), read).toArray()).toEqual([0, 0, 0]);
  });

  it("lies along a direction, a named one, or up where that has no length", () => {
    expect(alongOf(grip({ along: [0, 2, 0] }), read).toArray()).toEqual([0, 1, 0]);
    expect(alongOf(grip({ along: "axis" }), read).toArray()).toEqual([0, 0, 1]);
    expect(alongOf(grip({ along: "none" }), read).toArray()).toEqual([0, 1, 0]);
  });

  it("counts angles from the side that deformers count from, right-handed about the axis", () => {
    for (const axis of [
      [0, 1, 0],
      [0, 0, 1],
      [1, 0, 0],
      [1, 2, -3],
    ]) {
      const along = new THREE.Vector3(...axis).normalize();
      const turn = frameOf(along);
      const [x, y, z] = [0, 1, 2].map((k) =>
        new THREE.Vector3().setComponent(k, 1).applyQuaternion(turn),
      );
      expect(z.distanceTo(along)).toBeLessThan(1e-6);
      expect(x.clone().cross(y).distanceTo(z)).toBeLessThan(1e-6);
      expect(Math.abs(x.dot(along))).toBeLessThan(1e-6);
    }
    const upright = frameOf(new THREE.Vector3(0, 1, 0));
    const side = new THREE.Vector3(1, 0, 0).applyQuaternion(upright);
    expect(side.distanceTo(new THREE.Vector3(1, 0, 0))).toBeLessThan(1e-6);
  });

  it("has the axes about which a small change of each angle turns", () => {
    const angles: [number, number, number] = [20, -35, 50];
    const rotation = (degrees: number[]) =>
      new THREE.Matrix4().makeRotationFromEuler(
        new THREE.Euler(
          ...(degrees.map((d) => (d * Math.PI) / 180) as [number, number, number]),
          "ZYX",
        ),
      );
    const point = new THREE.Vector3(0.3, 0.7, -0.4);
    const now = point.clone().applyMatrix4(rotation(angles));
    gimbalAxes(angles).forEach((axis, k) => {
      const more = angles.map((d, j) => d + (j === k ? 0.01 : 0));
      const moved = point.clone().applyMatrix4(rotation(more)).sub(now);
      const expected = axis
        .clone()
        .cross(now)
        .multiplyScalar((0.01 * Math.PI) / 180);
      expect(moved.distanceTo(expected)).toBeLessThan(1e-7);
    });
  });

  it("goes on beyond a whole turn instead of springing back", () => {
    expect(unwound(350, -5)).toBe(355);
    expect(unwound(720, 10)).toBe(730);
    expect(unwound(-170, 175)).toBe(-185);
    expect(unwound(90, 90)).toBe(90);
  });
});
