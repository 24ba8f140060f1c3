import * as THREE from "three";
import type { FrameData, FrameMesh, LookHeader } from "../api/frame";
import { facingTriangles } from "./facing";
import { FrameBuffer, IndexBuffer, setChannels } from "./frameBuffers";
import { release } from "./keptShaders";
import { CopyBuffers } from "./copyBuffers";
import {
  makeDepth,
  makeDistance,
  makeLines,
  makeSurface,
  makeUniforms,
  withCopies,
  define,
  type SurfaceUniforms,
} from "./material";
import { Printed } from "./printShader";
import { makeQuick } from "./fastMaterial";
import { AMOUNT, leastOf, mostOf, showLooks, showTable } from "./lookShader";
import { makeDiscs, makeQuickDiscs, Strokes, watchScreen } from "./strokes";
import { drawing, pointSize } from "./decimation";

const FAR = 1e5;
/** Among what is drawn, of what hides others: after the backdrop that glass shows. */
const HELD_OUT = -500;
const DOTS: LookHeader["dots"][] = ["balls", "discs", "squares"];

/** What lets something be seen through it is drawn last, and hides nothing behind it. */
function setTransparent(material: THREE.Material, transparent: boolean) {
  if (material.transparent === transparent) return;
  material.transparent = transparent;
  material.depthWrite = !transparent;
  material.needsUpdate = true;
}

/** What draws one mesh of a frame, or its copies. */
export class PieceObject {
  private readonly packed = new FrameBuffer(4);
  private readonly normals = new FrameBuffer(2);
  private readonly mask = new FrameBuffer(1);
  private readonly exact = new FrameBuffer(3);
  private readonly uvs = new FrameBuffer(2);
  private readonly atRest = new FrameBuffer(3);
  private readonly printed: Printed;
  private blank = new Uint8Array(0);
  readonly uniforms = makeUniforms();
  readonly surface: THREE.MeshPhysicalMaterial;
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
  readonly strokes = new Strokes(this.uniforms, false);
  /** Along the edges of faces, where the look draws these; made when they are wanted. */
  private edgeStrokes: Strokes | null = null;
  private channels: FrameBuffer | null = null;
  private columns = 0;
  readonly group = new THREE.Group();
  private topology = "";
  private readonly all = new IndexBuffer();
  private readonly edges = new IndexBuffer();
  private facing = new THREE.BufferAttribute(new Uint32Array(0), 1);
  /** All triangles, once they were drawn. */
  private given: THREE.BufferAttribute | null = null;
  private isQuick = false;
  private heldOut = false;
  private look: LookHeader | null = null;
  private shown: FrameMesh | null = null;

  constructor(withTable: boolean) {
    const material = <M extends THREE.Material>(make: (uniforms: SurfaceUniforms) => M) =>
      withCopies(make(this.uniforms), withTable);
    const geometry = () =>
      withTable ? new THREE.InstancedBufferGeometry() : new THREE.BufferGeometry();
    this.printed = new Printed(this.uniforms);
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
    this.mesh.customDistanceMaterial = material(makeDistance);
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
    this.strokes.show(data, topology.segments);
    const columns = data.channels ? data.channels.length / drawn : 0;
    if (this.columns !== columns) {
      this.columns = columns;
      this.channels = columns ? new FrameBuffer(columns) : null;
    }
    if (data.channels) this.channels?.fill(data.channels);
    if (data.uvs) this.uvs.fill(data.uvs);
    if (data.atRest) this.atRest.fill(data.atRest);
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
    for (const geometry of [this.geometry, this.pointGeometry]) {
      setChannels(geometry, "channels", this.channels, columns);
      if (data.uvs) geometry.setAttribute("printUv", this.uvs.attribute(2));
      else geometry.deleteAttribute("printUv");
      if (data.atRest) geometry.setAttribute("printRest", this.atRest.attribute(3));
      else geometry.deleteAttribute("printRest");
    }
    if (data.copies) this.copies?.show(data.copies);
    this.showLook(frame);
  }

  /** What is drawn: what the view shows instead of the look, or else what the look says. Curves
   * always, and points where there is nothing else. */
  draw(how: "surface" | "edges" | "wire" | "points") {
    const { triangles, segments, edges } = this.shown?.topology ?? {};
    const [faces, curves] = [triangles?.length ?? 0, segments?.length ?? 0];
    const looked = how === "surface" && this.look !== null ? this.look.drawn : null;
    const over = how === "edges" || looked === "edges";
    // Only under edges: it pushes steep faces back the most, and at a rim behind the far side.
    this.surface.polygonOffset = this.quick.polygonOffset = over;
    this.mesh.visible = faces > 0 && (looked === "surface" || over);
    const lined = faces > 0 && (looked === "lines" || looked === "edges");
    // Copies are drawn by their table, which strokes do not know.
    const stroked = lined && this.copies === null;
    this.lines.visible = faces > 0 && (how === "edges" || how === "wire" || (lined && !stroked));
    this.strokes.mesh.visible = curves > 0 && how !== "points" && looked !== "points";
    this.points.visible = how === "points" || looked === "points" || (faces === 0 && curves === 0);
    this.drawEdges(stroked ? (edges ?? null) : null, looked === "edges");
  }

  private drawEdges(edges: Uint32Array | null, over: boolean) {
    if (edges && !this.edgeStrokes) {
      this.edgeStrokes = new Strokes(this.uniforms, over);
      this.group.add(this.edgeStrokes.mesh);
    }
    if (!this.edgeStrokes) return;
    define(this.edgeStrokes.mesh.material, "PRINTED", (this.look?.prints.length ?? 0) > 0);
    this.edgeStrokes.mesh.visible = edges !== null;
    this.edgeStrokes.lieOver(over);
    if (edges && this.shown) this.edgeStrokes.show(this.shown, edges);
  }

  /** Have the surface throw back what is around it; null for what is too dull for that. */
  reflect(around: THREE.Texture | null) {
    if (this.surface.envMap === around) return;
    const other = (this.surface.envMap === null) !== (around === null);
    this.surface.envMap = around;
    if (other) this.surface.needsUpdate = true;
  }

  /** Have it hide what is behind it and be nothing itself, so that the backdrop is seen there. */
  holdOut(holdout: boolean) {
    if (this.heldOut === holdout) return;
    this.heldOut = holdout;
    const parts = [this.mesh, this.lines, this.points, this.strokes.mesh];
    const { surface, quick, lines, discs, quickDiscs, strokes } = this;
    const materials = [surface, quick, lines.material, discs, quickDiscs, strokes.mesh.material];
    for (const material of materials.flat()) material.colorWrite = !holdout;
    // Before all that it may hide.
    for (const part of parts) part.renderOrder = holdout ? HELD_OUT : 0;
    this.mesh.castShadow = !holdout;
    if (this.look) this.showMaterial(this.look);
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

  drawAll() {
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
    this.look = look;
    const size = look.looks[0].amounts[AMOUNT.size].low;
    const times = look.on_screen || size <= 0 ? 1 : pointSize(size, data.header) / size;
    showLooks(look, this.uniforms, times);
    this.printed.show(look.prints, data.pictures);
    const { surface, quick, discs, quickDiscs, strokes } = this;
    for (const material of [surface, quick, discs, quickDiscs, strokes.mesh.material])
      define(material, "PRINTED", look.prints.length > 0);
    this.printed.showSphere(data.sphere, this.uniforms.uSphere);
    for (const material of [surface, quick]) define(material, "LIT_SPHERE", data.sphere !== null);
    showTable(this.uniforms.uGradients, data.gradients, look.gradient_length, 4);
    showTable(this.uniforms.uTables, data.tables, 64, 1);
    this.uniforms.uOnScreen.value = look.on_screen ? 1 : 0;
    this.uniforms.uDots.value = DOTS.indexOf(look.dots);
    this.uniforms.uEdgeColour.value.set(look.edge_colour);
    if (this.surface.flatShading !== look.flat) {
      this.surface.flatShading = look.flat;
      this.surface.needsUpdate = true;
      this.detail(this.isQuick);
    }
    this.showMaterial(look);
  }

  /** What three.js is to be told of the looks: which parts of its material are in use. */
  private showMaterial(look: LookHeader) {
    const { surface } = this;
    surface.transmission = this.heldOut ? 0 : mostOf(look, "glass");
    surface.clearcoat = mostOf(look, "coat");
    surface.clearcoatRoughness = look.coat_roughness;
    surface.sheen = mostOf(look, "sheen") > 0 ? 1 : 0;
    surface.sheenColor.set(look.sheen_colour);
    surface.sheenRoughness = 0.5;
    surface.ior = look.refraction;
    surface.attenuationColor.set(look.tint);
    surface.attenuationDistance = look.tint_depth;
    surface.thickness = look.thin ? 0 : this.bodyThickness();
    const seeThrough = leastOf(look, "opacity") < 1 && !this.heldOut;
    for (const material of [this.discs, this.quickDiscs, this.strokes.mesh.material])
      setTransparent(material, seeThrough);
    setTransparent(this.surface, seeThrough);
    setTransparent(this.quick, seeThrough || surface.transmission > 0);
  }

  /** About how far light goes through the body, metres: what is not traced cannot be known. */
  private bodyThickness(): number {
    const { uSize } = this.uniforms;
    return this.shown?.exact ? 0.3 : 0.5 * Math.min(uSize.value.x, uSize.value.y, uSize.value.z);
  }

  dispose(gl: THREE.WebGLRenderer) {
    this.geometry.dispose();
    this.lineGeometry.dispose();
    this.pointGeometry.dispose();
    this.strokes.dispose(gl);
    this.edgeStrokes?.dispose(gl);
    release(gl, this.discs);
    release(gl, this.quickDiscs);
    this.surface.dispose();
    release(gl, this.quick);
    this.uniforms.uGradients.value.dispose();
    this.uniforms.uTables.value.dispose();
    this.printed.dispose();
  }
}
