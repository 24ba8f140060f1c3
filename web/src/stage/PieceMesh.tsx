import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useMemo } from "react";
import * as THREE from "three";
import type { FrameData, FrameMesh } from "../api/frame";
import { useInterface } from "../common/store/store";
import { beforeView, shading } from "./beforeView";
import { facingTriangles } from "./facing";
import { FrameBuffer, IndexBuffer } from "./frameBuffers";
import { release } from "./keptShaders";
import { CopyBuffers } from "./copyBuffers";
import {
  makeDepth,
  makeLines,
  makeSurface,
  makeUniforms,
  withCopies,
  type SurfaceUniforms,
} from "./material";
import { makeQuick } from "./fastMaterial";
import { makeDiscs, makeQuickDiscs, Strokes, watchScreen } from "./strokes";
import { drawing, pointSize } from "./decimation";
import { useDetail } from "./useDetail";

const FAR = 1e5;

interface Props {
  data: FrameData;
  place: number[];
  showHeat: boolean;
}

/** What draws one mesh of a frame, or its copies. */
class PieceObject {
  private readonly packed = new FrameBuffer(4);
  private readonly normals = new FrameBuffer(2);
  private readonly mask = new FrameBuffer(1);
  private readonly exact = new FrameBuffer(3);
  private blank = new Uint8Array(0);
  readonly uniforms = makeUniforms();
  readonly surface: THREE.MeshStandardMaterial;
  readonly quick: THREE.ShaderMaterial;
  readonly geometry: THREE.BufferGeometry;
  readonly lineGeometry: THREE.BufferGeometry;
  readonly mesh: THREE.Mesh<THREE.BufferGeometry, THREE.Material>;
  readonly lines: THREE.LineSegments;
  readonly pointGeometry: THREE.BufferGeometry;
  private readonly discs: THREE.ShaderMaterial;
  private readonly quickDiscs: THREE.ShaderMaterial;
  readonly points: THREE.Points;
  private readonly copies: CopyBuffers | null;
  readonly strokes = new Strokes(this.uniforms);
  readonly group = new THREE.Group();
  private topology = "";
  private readonly all = new IndexBuffer();
  private readonly edges = new IndexBuffer();
  private facing = new THREE.BufferAttribute(new Uint32Array(0), 1);
  /** All triangles, once they were drawn. */
  private given: THREE.BufferAttribute | null = null;
  private isQuick = false;
  private shown: FrameMesh | null = null;

  constructor(withTable: boolean) {
    const material = <M extends THREE.Material>(make: (uniforms: SurfaceUniforms) => M) =>
      withCopies(make(this.uniforms), withTable);
    const geometry = () =>
      withTable ? new THREE.InstancedBufferGeometry() : new THREE.BufferGeometry();
    this.surface = material(makeSurface);
    this.quick = material(makeQuick);
    this.geometry = geometry();
    this.lineGeometry = geometry();
    this.pointGeometry = geometry();
    this.mesh = new THREE.Mesh<THREE.BufferGeometry, THREE.Material>(this.geometry, this.surface);
    this.lines = new THREE.LineSegments(this.lineGeometry, material(makeLines));
    this.discs = material(makeDiscs);
    this.quickDiscs = material(makeQuickDiscs);
    this.points = new THREE.Points(this.pointGeometry, this.discs);
    this.copies = withTable
      ? new CopyBuffers(this.uniforms, [this.geometry, this.lineGeometry, this.pointGeometry])
      : null;
    this.mesh.customDepthMaterial = material(makeDepth);
    this.mesh.castShadow = true;
    this.mesh.receiveShadow = true;
    for (const material of [this.surface, this.quick]) {
      material.polygonOffsetFactor = 1;
      material.polygonOffsetUnits = 1;
    }
    this.castByAll();
    watchScreen(this.points, this.uniforms);
    for (const part of [this.mesh, this.lines, this.points, this.strokes.mesh]) {
      part.frustumCulled = false;
      this.group.add(part);
    }
    this.group.matrixAutoUpdate = false;
  }

  show(data: FrameMesh, frame: FrameData) {
    const { topology } = data;
    const drawn = data.points.length / 4;
    this.shown = data;
    if (this.topology !== topology.digest) {
      this.topology = topology.digest;
      this.given = null;
      this.all.fill(topology.triangles);
      this.edges.fill(topology.edges);
      if (this.facing.array.length !== this.all.attribute.array.length) {
        this.facing = new THREE.BufferAttribute(
          new Uint32Array(this.all.attribute.array.length),
          1,
        );
        this.facing.setUsage(THREE.DynamicDrawUsage);
      }
      this.drawAll();
      this.lineGeometry.setIndex(this.edges.attribute);
      this.lineGeometry.setDrawRange(0, this.edges.count);
    }
    this.packed.fill(data.points);
    this.normals.fill(data.normals ?? new Int16Array(0));
    this.mask.fill(data.mask ?? this.noMask(drawn));
    this.strokes.show(data.points, topology.segments, data.mask);
    const { uLow, uSize } = this.uniforms;
    if (data.exact) {
      this.exact.fill(data.exact);
      uLow.value.set(0, 0, 0);
      uSize.value.set(1, 1, 1);
    } else {
      uLow.value.fromArray(data.low);
      uSize.value.fromArray(data.high).sub(uLow.value);
    }
    const packed = this.packed.buffer;
    const position = data.exact
      ? this.exact.attribute(3)
      : new THREE.InterleavedBufferAttribute(packed, 3, 0, true);
    this.geometry.setAttribute("position", position);
    const value = new THREE.InterleavedBufferAttribute(packed, 1, 3, true);
    const mask = this.mask.attribute(1, true);
    this.geometry.setAttribute("value", value);
    // Under the name "normal", without which three.js would shade every triangle flat.
    this.geometry.setAttribute("normal", this.normals.attribute(2, true));
    this.geometry.setAttribute("mask", mask);
    this.pointGeometry.setDrawRange(0, drawn);
    this.pointGeometry.setAttribute("position", position);
    this.pointGeometry.setAttribute("value", value);
    this.pointGeometry.setAttribute("mask", mask);
    this.lineGeometry.setAttribute("position", position);
    if (data.copies) this.copies?.show(data.copies);
    this.showLook(frame);
  }

  /** What is drawn: faces, edges, points; curves always, and points where there is nothing else. */
  draw(how: "surface" | "edges" | "wire" | "points") {
    const { triangles, segments } = this.shown?.topology ?? {};
    const [faces, curves] = [triangles?.length ?? 0, segments?.length ?? 0];
    // Only under edges: it pushes steep faces back the most, and at a rim behind the far side.
    this.surface.polygonOffset = this.quick.polygonOffset = how === "edges";
    this.mesh.visible = faces > 0 && (how === "surface" || how === "edges");
    this.lines.visible = faces > 0 && (how === "edges" || how === "wire");
    this.strokes.mesh.visible = curves > 0 && how !== "points";
    this.points.visible = how === "points" || (faces === 0 && curves === 0);
  }

  /** With full detail, or as quickly as possible. Facets have no quick way. */
  detail(quick: boolean) {
    this.isQuick = quick;
    this.mesh.material = quick && !this.surface.flatShading ? this.quick : this.surface;
    this.mesh.receiveShadow = !quick;
    this.points.material = quick ? this.quickDiscs : this.discs;
  }

  /**
   * Before a picture: with quick shading, or where the processor draws, leave out the triangles of
   * a closed surface that face away from the camera.
   */
  turnTo(camera: THREE.Camera) {
    const { material, visible } = this.mesh;
    const data = this.shown;
    // The shadow's picture swaps all triangles in, which the card must have been given by then.
    const sorted =
      material === this.quick || (drawing.inSoftware && this.given === this.all.attribute);
    if (!visible || !sorted || !data?.topology.closed || data.copies) {
      this.uniforms.uSide.value = 0;
      this.drawAll();
      return;
    }
    const eye = camera.position.clone();
    // In a flat view everything is seen from the same side, as if from infinitely far.
    if (camera instanceof THREE.OrthographicCamera)
      eye.addScaledVector(camera.getWorldDirection(new THREE.Vector3()), -FAR);
    eye.applyMatrix4(this.group.matrix.clone().invert());
    const { start, count, side } = facingTriangles(
      data.points,
      data.low,
      data.high,
      data.topology.triangles,
      eye.toArray(),
      (this.facing.array as Uint32Array).subarray(0, this.all.count),
    );
    this.uniforms.uSide.value = side;
    this.facing.clearUpdateRanges();
    this.facing.addUpdateRange(start, count);
    this.facing.needsUpdate = true;
    this.drawOnly(this.facing, start, count);
  }

  private drawAll() {
    this.drawOnly(this.all.attribute, 0, this.all.count);
  }

  private drawOnly(index: THREE.BufferAttribute, start: number, count: number) {
    this.geometry.setIndex(index);
    this.geometry.setDrawRange(start, count);
  }

  /** Triangles that the camera does not see throw a shadow as well. */
  private castByAll() {
    let back = () => undefined as void;
    this.mesh.onBeforeShadow = () => {
      const { index, drawRange } = this.geometry;
      const { start, count } = drawRange;
      back = () => this.drawOnly(index ?? this.all.attribute, start, count);
      this.drawAll();
    };
    this.mesh.onAfterShadow = () => back();
    this.mesh.onAfterRender = () => {
      if (this.geometry.index === this.all.attribute) this.given = this.all.attribute;
    };
  }

  /** The same array as long as the count stays, so that it is sent to the card only once. */
  private noMask(points: number): Uint8Array {
    if (this.blank.length !== points) this.blank = new Uint8Array(points);
    return this.blank;
  }

  private showLook(data: FrameData) {
    const { look } = data.header;
    this.surface.color.set(look.by_value ? "#ffffff" : look.colour);
    this.uniforms.uColour.value.copy(this.surface.color);
    this.surface.roughness = this.uniforms.uRoughness.value = look.roughness;
    if (this.surface.flatShading !== look.flat) {
      this.surface.flatShading = look.flat;
      this.surface.needsUpdate = true;
      this.detail(this.isQuick);
    }
    this.uniforms.uByValue.value = look.by_value ? 1 : 0;
    this.uniforms.uGlow.value = look.glow;
    this.uniforms.uThickness.value = pointSize(look.thickness, data.header);
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

  dispose(gl: THREE.WebGLRenderer) {
    this.geometry.dispose();
    this.lineGeometry.dispose();
    this.pointGeometry.dispose();
    this.strokes.dispose(gl);
    release(gl, this.discs);
    release(gl, this.quickDiscs);
    this.surface.dispose();
    release(gl, this.quick);
    this.uniforms.uGradient.value.dispose();
  }
}

/** One mesh of a piece: its surface, edges or points, where the piece stands. */
function MeshOf({ mesh, data, place, showHeat }: Props & { mesh: FrameMesh }) {
  const draw = useInterface((s) => s.draw);
  const invalidate = useThree((s) => s.invalidate);
  const gl = useThree((s) => s.gl);
  const withTable = mesh.copies !== null;
  const object = useMemo(() => new PieceObject(withTable), [withTable]);
  const quick = useDetail((s) => s.moving && s.level > 0);
  useEffect(
    () => () => {
      object.dispose(gl);
      gl.shadowMap.needsUpdate = true;
      invalidate();
    },
    [object, gl, invalidate],
  );
  // Picture draws new frames at once, when all pieces have taken theirs.
  useLayoutEffect(() => {
    object.show(mesh, data);
    gl.shadowMap.needsUpdate = true;
  }, [object, mesh, data, gl]);
  useEffect(() => {
    const turn = (camera: THREE.Camera) => object.turnTo(camera);
    const shade = (asQuick: boolean) => object.detail(asQuick);
    beforeView.add(turn);
    shading.add(shade);
    return () => {
      beforeView.delete(turn);
      shading.delete(shade);
    };
  }, [object]);
  useLayoutEffect(() => {
    object.detail(quick);
    invalidate();
  }, [object, quick, invalidate]);
  useLayoutEffect(() => {
    object.group.matrix.fromArray(place);
    object.group.matrixWorldNeedsUpdate = true;
    gl.shadowMap.needsUpdate = true;
  }, [object, place, gl]);
  const heat = showHeat && (mesh.mask ?? mesh.copies?.mask ?? null) !== null;
  useLayoutEffect(() => {
    object.uniforms.uHeat.value = heat ? 1 : 0;
    object.draw(draw);
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [object, draw, heat, gl, invalidate, mesh.topology]);
  return <primitive object={object.group} />;
}

/** One piece on the stage, with each of the meshes that it is made of. */
export function PieceMesh(props: Props) {
  return props.data.meshes.map((mesh, number) => <MeshOf key={number} mesh={mesh} {...props} />);
}
