import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { pictureOf } from "../api/pictures";
import { useSceneMoment } from "./useMoment";

/** The backdrop as glass lets it be seen; in the picture itself it is the page's own, behind it. */
export function BehindGlass({ state, wanted }: { state: StudyState; wanted: boolean }) {
  const { kind, middle, angle, stops, picture, fit } = useSceneMoment(state).backdrop;
  const { mesh, gradient, hung } = useMemo(makeBackdrop, []);
  useEffect(() => {
    gradient.value.dispose();
    gradient.value = rowOf(stops);
  }, [gradient, stops]);
  const uniforms = (mesh.material as THREE.ShaderMaterial).uniforms;
  useEffect(() => {
    if (!picture) return;
    let stale = false;
    void pictureOf(picture).then((bitmap) => {
      if (stale) return;
      const texture = new THREE.Texture(bitmap);
      texture.colorSpace = THREE.SRGBColorSpace;
      texture.flipY = false;
      texture.needsUpdate = true;
      hung.value?.dispose();
      hung.value = texture;
      (uniforms.size.value as THREE.Vector2).set(bitmap.width, bitmap.height);
    });
    return () => {
      stale = true;
      hung.value?.dispose();
      hung.value = null;
    };
  }, [picture, hung, uniforms]);
  useEffect(() => {
    uniforms.fit.value = kind === "picture" ? 1 + FITS.indexOf(fit) : 0;
    (uniforms.middle.value as THREE.Vector2).set(middle[0], 1 - middle[1]);
    uniforms.angle.value = kind === "linear" ? (angle * Math.PI) / 180 : -1;
  }, [uniforms, kind, angle, middle, fit]);
  useEffect(
    () => () => {
      mesh.geometry.dispose();
      (mesh.material as THREE.Material).dispose();
      gradient.value.dispose();
    },
    [mesh, gradient],
  );
  return wanted ? <primitive object={mesh} /> : null;
}

const ROW = 128;
const FITS = ["cover", "whole", "stretch"];

/** Colours along a row of pixels, mixed in sRGB as the page mixes them. */
function rowOf(stops: { at: number; colour: string }[]): THREE.DataTexture {
  if (!stops.length) stops = [{ at: 0, colour: "#808080" }];
  const colours = stops.map(({ colour }) => new THREE.Color(colour).convertLinearToSRGB());
  const data = new Uint8Array(ROW * 4);
  for (let k = 0; k < ROW; k++) {
    const at = k / (ROW - 1);
    const next = stops.findIndex((stop) => stop.at >= at);
    const last = next < 0 ? stops.length - 1 : Math.max(next, 1);
    const [a, b] = [stops[Math.max(0, last - 1)], stops[last] ?? stops[0]];
    const share = b.at > a.at ? Math.min(1, Math.max(0, (at - a.at) / (b.at - a.at))) : 1;
    const mixed = colours[Math.max(0, last - 1)].clone().lerp(colours[last] ?? colours[0], share);
    data.set([...mixed.toArray().map((v) => Math.round(v * 255)), 255], 4 * k);
  }
  const texture = new THREE.DataTexture(data, ROW, 1);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.magFilter = texture.minFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

function makeBackdrop() {
  const gradient = { value: new THREE.DataTexture(new Uint8Array(4), 1, 1) };
  const shape = { value: new THREE.Vector2(1, 1) };
  const hung = { value: null as THREE.Texture | null };
  const material = new THREE.ShaderMaterial({
    uniforms: {
      gradient,
      shape,
      hung,
      size: { value: new THREE.Vector2(1, 1) },
      fit: { value: 0 },
      middle: { value: new THREE.Vector2(0.5, 0.5) },
      angle: { value: -1 },
    },
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    vertexShader: /* glsl */ `
varying vec2 at;
void main() {
  at = position.xy * 0.5 + 0.5;
  gl_Position = vec4(position.xy, 1.0, 1.0);
}`,
    fragmentShader: /* glsl */ `
uniform sampler2D gradient;
uniform vec2 shape;
uniform vec2 middle;
// Of a linear one, radians; below 0 it is round.
uniform float angle;
uniform sampler2D hung;
uniform vec2 size;
// 0 where there is no picture, 1 cover, 2 whole, 3 stretched.
uniform int fit;
varying vec2 at;
void main() {
  vec2 far = max(middle, 1.0 - middle) * shape;
  float share = length((at - middle) * shape) / length(far);
  vec2 way = vec2(cos(angle), sin(angle));
  if (angle >= 0.0) share = 0.5 + dot((at - 0.5) * shape, way) / dot(abs(way), shape);
  gl_FragColor = vec4(texture2D(gradient, vec2(share, 0.5)).rgb, 1.0);
  if (fit > 0) {
    vec2 times = shape / size;
    float both = fit == 1 ? max(times.x, times.y) : min(times.x, times.y);
    if (fit < 3) times = vec2(both);
    vec2 there = (at - 0.5) * shape / (times * size) + 0.5;
    vec4 shown = texture2D(hung, there);
    if (any(notEqual(there, clamp(there, 0.0, 1.0)))) shown.a = 0.0;
    gl_FragColor.rgb = mix(gl_FragColor.rgb, shown.rgb, shown.a);
  }
}`,
  });
  const mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
  mesh.frustumCulled = false;
  mesh.renderOrder = -1000;
  const viewport = new THREE.Vector4();
  mesh.onBeforeRender = (renderer) => {
    // three.js draws what is behind glass to a buffer of several sizes; nothing else here has such.
    const target = renderer.getRenderTarget();
    material.colorWrite = target?.texture.generateMipmaps === true;
    renderer.getCurrentViewport(viewport);
    shape.value.set(viewport.z, viewport.w);
  };
  return { mesh, gradient, hung };
}
