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

/** A buffer on the graphics card that is written over from frame to frame, not made anew. */
class FrameBuffer {
  buffer: THREE.InterleavedBuffer;

  constructor(private stride: number) {
    this.buffer = new THREE.InterleavedBuffer(new Float32Array(0), stride);
  }

  get array() {
    return this.buffer.array;
  }

  fill(array: THREE.TypedArray) {
    const same = array.length === this.array.length && array.constructor === this.array.constructor;
    if (!same) {
      this.buffer = new THREE.InterleavedBuffer(array, this.stride);
      this.buffer.setUsage(THREE.DynamicDrawUsage);
    } else if (array !== this.array) {
      this.buffer.array = array;
      this.buffer.needsUpdate = true;
    }
  }

  attribute(size: number, normalized = false) {
    return new THREE.InterleavedBufferAttribute(this.buffer, size, 0, normalized);
  }
}

class PieceObject {
  private readonly packed = new FrameBuffer(4);
  private readonly normals = new FrameBuffer(2);
  private readonly mask = new FrameBuffer(1);
  private readonly exact = new FrameBuffer(3);
  private blank = new Uint8Array(0);
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
    this.packed.fill(data.points);
    this.normals.fill(data.normals);
    this.mask.fill(data.mask ?? this.noMask(header.points));
    const { uLow, uSize } = this.uniforms;
    if (data.exact) {
      this.exact.fill(data.exact);
      uLow.value.set(0, 0, 0);
      uSize.value.set(1, 1, 1);
    } else {
      uLow.value.fromArray(header.low);
      uSize.value.fromArray(header.high).sub(uLow.value);
    }
    const packed = this.packed.buffer;
    const position = data.exact
      ? this.exact.attribute(3)
      : new THREE.InterleavedBufferAttribute(packed, 3, 0, true);
    this.geometry.setAttribute("position", position);
    this.geometry.setAttribute("value", new THREE.InterleavedBufferAttribute(packed, 1, 3, true));
    // Under the name "normal", without which three.js would shade every triangle flat.
    this.geometry.setAttribute("normal", this.normals.attribute(2, true));
    this.geometry.setAttribute("mask", this.mask.attribute(1, true));
    this.lineGeometry.setAttribute("position", position);
    this.showLook(data);
  }

  /** The same array as long as the count stays, so that it is sent to the card only once. */
  private noMask(points: number): Uint8Array {
    if (this.blank.length !== points) this.blank = new Uint8Array(points);
    return this.blank;
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
    const known = this.uniforms.uGradient.value.image.data as Uint8Array;
    const changed = data.gradient?.some((v, k) => v !== known[k]);
    if (data.gradient && changed) {
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
