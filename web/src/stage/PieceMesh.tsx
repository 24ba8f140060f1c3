import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { topologyOf, type FrameData } from "../api/frame";
import { useInterface } from "../state/store";
import { makeDepth, makeLines, makePoints, makeSurface, makeUniforms } from "./material";

interface Props {
  data: FrameData;
  place: number[];
  showHeat: boolean;
}

class PieceObject {
  readonly uniforms = makeUniforms();
  readonly surface = makeSurface(this.uniforms);
  readonly geometry = new THREE.BufferGeometry();
  readonly lineGeometry = new THREE.BufferGeometry();
  readonly mesh = new THREE.Mesh(this.geometry, this.surface);
  readonly lines = new THREE.LineSegments(this.lineGeometry, makeLines(this.uniforms));
  readonly points = new THREE.Points(this.geometry, makePoints(this.uniforms));
  readonly group = new THREE.Group();
  private topology = "";

  constructor() {
    this.mesh.customDepthMaterial = makeDepth(this.uniforms);
    this.mesh.castShadow = true;
    this.mesh.receiveShadow = true;
    this.surface.polygonOffset = true;
    this.surface.polygonOffsetFactor = 1;
    this.surface.polygonOffsetUnits = 1;
    for (const part of [this.mesh, this.lines, this.points]) {
      part.frustumCulled = false;
      this.group.add(part);
    }
    this.group.matrixAutoUpdate = false;
  }

  show(data: FrameData) {
    const { header } = data;
    const topology = topologyOf(header.topology);
    if (!topology) return;
    if (this.topology !== header.topology) {
      this.topology = header.topology;
      this.geometry.dispose();
      this.geometry.setIndex(new THREE.BufferAttribute(topology.triangles, 1));
      this.lineGeometry.setIndex(new THREE.BufferAttribute(topology.edges, 1));
    }
    const points = new THREE.InterleavedBuffer(data.points, 4);
    const position = new THREE.InterleavedBufferAttribute(points, 3, 0, true);
    this.geometry.setAttribute("position", position);
    this.geometry.setAttribute("value", new THREE.InterleavedBufferAttribute(points, 1, 3, true));
    this.geometry.setAttribute("octahedral", new THREE.BufferAttribute(data.normals, 2, true));
    const mask = data.mask ?? new Uint8Array(header.points);
    this.geometry.setAttribute("mask", new THREE.BufferAttribute(mask, 1, true));
    this.lineGeometry.setAttribute("position", position);
    const low = new THREE.Vector3(...header.low);
    const high = new THREE.Vector3(...header.high);
    this.uniforms.uLow.value.copy(low);
    this.uniforms.uSize.value.copy(high).sub(low);
    this.showLook(data);
  }

  private showLook(data: FrameData) {
    const { look } = data.header;
    this.surface.color.set(look.by_value ? "#ffffff" : look.colour);
    this.surface.roughness = look.roughness;
    if (this.surface.flatShading !== look.flat) {
      this.surface.flatShading = look.flat;
      this.surface.needsUpdate = true;
    }
    this.uniforms.uByValue.value = look.by_value ? 1 : 0;
    this.uniforms.uGlow.value = look.glow;
    if (data.gradient) {
      const texture = new THREE.DataTexture(data.gradient.slice(), data.gradient.length / 4, 1);
      texture.colorSpace = THREE.SRGBColorSpace;
      texture.magFilter = texture.minFilter = THREE.LinearFilter;
      texture.needsUpdate = true;
      this.uniforms.uGradient.value.dispose();
      this.uniforms.uGradient.value = texture;
    }
  }

  dispose() {
    this.geometry.dispose();
    this.lineGeometry.dispose();
    this.surface.dispose();
    this.uniforms.uGradient.value.dispose();
  }
}

/** One piece on the stage: its surface, edges or points, where it stands. */
export function PieceMesh({ data, place, showHeat }: Props) {
  const draw = useInterface((s) => s.draw);
  const invalidate = useThree((s) => s.invalidate);
  const object = useMemo(() => new PieceObject(), []);
  useEffect(() => () => object.dispose(), [object]);
  useEffect(() => {
    object.show(data);
    invalidate();
  }, [object, data, invalidate]);
  useEffect(() => {
    object.group.matrix.fromArray(place);
    object.group.matrixWorldNeedsUpdate = true;
    invalidate();
  }, [object, place, invalidate]);
  useEffect(() => {
    object.uniforms.uHeat.value = showHeat && data.mask ? 1 : 0;
    object.mesh.visible = draw === "surface" || draw === "edges";
    object.lines.visible = draw === "edges" || draw === "wire";
    object.points.visible = draw === "points";
    invalidate();
  }, [object, draw, showHeat, data, invalidate]);
  return <primitive object={object.group} />;
}
