import { useThree, type ThreeElements } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useMemo } from "react";
import type * as THREE from "three";
import { Line2 } from "three/addons/lines/Line2.js";
import { LineGeometry } from "three/addons/lines/LineGeometry.js";
import { LineMaterial } from "three/addons/lines/LineMaterial.js";
import { HANDLE } from "./Grip";
import type { Triple } from "./heldValues";
import { release } from "./keptShaders";

interface Props extends Pick<ThreeElements["group"], "position" | "scale"> {
  points: readonly (Readonly<Triple> | THREE.Vector3)[];
  colour?: string;
  /** Pixels of the page. */
  width?: number;
  opacity?: number;
  /** Lengths in the line's own space; solid where missing. */
  dash?: number;
  gap?: number;
  renderOrder?: number;
}

/** A line of a handle: of constant width, and seen through what stands before it. */
export function HandleLine(props: Props) {
  const { points, colour = HANDLE, width = 1.4, opacity = 1, dash = 0, gap = 0 } = props;
  const gl = useThree((s) => s.gl);
  // Points are given anew each time; the line is made anew only where they moved.
  const places = points.flatMap((p) => (Array.isArray(p) ? p : (p as THREE.Vector3).toArray()));
  const key = places.join();
  const geometry = useMemo(
    () => new LineGeometry().setPositions(key.split(",").map(Number)),
    [key],
  );
  useEffect(() => () => void geometry.dispose(), [geometry]);
  const material = useMemo(() => new LineMaterial({ transparent: true, depthTest: false }), []);
  useEffect(() => () => release(gl, material), [gl, material]);
  const line = useMemo(() => new Line2(undefined, material), [material]);
  useLayoutEffect(() => {
    line.geometry = geometry;
    line.computeLineDistances();
  }, [line, geometry]);
  useLayoutEffect(() => {
    material.color.set(colour);
    material.linewidth = width;
    material.opacity = opacity;
    material.dashed = dash > 0;
    material.dashSize = dash;
    material.gapSize = gap;
  }, [material, colour, width, opacity, dash, gap]);
  return (
    <primitive
      object={line}
      position={props.position}
      scale={props.scale}
      renderOrder={props.renderOrder ?? 9}
    />
  );
}
