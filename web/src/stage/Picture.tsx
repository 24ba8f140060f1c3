import { useFrame, useThree } from "@react-three/fiber";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, type RefObject } from "react";
import * as THREE from "three";
import { FullScreenQuad } from "three-stdlib";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { keptPictures } from "../common/keptPictures";
import { useInterface } from "../common/store/store";
import { OffscreenBuffer } from "./offscreenBuffer";
import { beforeView } from "./beforeView";
import { Debounce } from "./debounce";
import { cameraOf, type Cameras } from "./FlatViews";
import { frames } from "./frameSource";
import { layer } from "./KeptLayer";
import { keepShaders, release } from "./keptShaders";
import { MadeReady } from "./madeReady";
import { panesOf, type Pane } from "./panes";
import { InteractivePictures } from "./interactivePictures";
import { sceneOf } from "./scene";
import { SoftRims } from "./softRims";
import { drawsInSoftware } from "./software";
import { drawn, resolutionAt, useDetail } from "./useDetail";
import { useOffscreenPlayback } from "./useOffscreenPlayback";
import { useShown, type Shown } from "./useStageFrames";

const SAMPLES = 4;
const QUIET_MS = 50;

/** Brings linear light with its opacity to the screen: tone, then the screen's curve. */
function makeScreen() {
  const picture: THREE.IUniform<THREE.Texture | null> = { value: null };
  const material = new THREE.ShaderMaterial({
    uniforms: { picture },
    depthTest: false,
    depthWrite: false,
    blending: THREE.NoBlending,
    vertexShader: /* glsl */ `
varying vec2 at;
void main() {
  at = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`,
    // Rims are mixed with what is behind them by the page, so opacity is taken out and put back.
    fragmentShader: /* glsl */ `
uniform sampler2D picture;
varying vec2 at;
void main() {
  vec4 light = texture2D(picture, at);
  gl_FragColor = vec4(light.rgb / max(light.a, 1e-4), light.a);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
  gl_FragColor.rgb *= light.a;
}`,
  });
  return { material, picture };
}

/**
 * Draws at once what has just arrived, instead of when the browser asks for the next picture; but
 * no more often than it asks, or pictures would pile up before a slow graphics card.
 */
function useDrawAtOnce(shown: Record<string, Shown>): RefObject<boolean> {
  /** Whether something has arrived that was not drawn yet. */
  const arrived = useRef(false);
  const advance = useThree((s) => s.advance);
  const invalidate = useThree((s) => s.invalidate);
  const waiting = useRef(false);
  useLayoutEffect(() => {
    arrived.current = true;
    if (waiting.current) {
      invalidate();
      return;
    }
    waiting.current = true;
    requestAnimationFrame(() => (waiting.current = false));
    advance(performance.now());
  }, [shown, advance, invalidate]);
  return arrived;
}

interface Props {
  state: StudyState;
  cameras: Cameras;
}

/** The frame that all visible pieces show; null while some show another. */
function frameShown(state: StudyState, shown: Record<string, Shown>): number | null {
  const visible = documentOf(state).pieces.filter((p) => p.visible !== false);
  const [first, ...rest] = visible.map((p) => shown[p.id]?.frame ?? null);
  return first !== undefined && rest.every((f) => f === first) ? first : null;
}

/** Keep the picture that has just been drawn. */
function keepPicture(canvas: HTMLCanvasElement, scene: string, frame: number) {
  keptPictures.turnTo(scene);
  if (keptPictures.has(frame)) return;
  void createImageBitmap(canvas).then(
    (picture) => {
      if (!keptPictures.keep(scene, frame, picture)) picture.close();
    },
    // No memory for one more: it is drawn again when it is wanted.
    () => undefined,
  );
}

/**
 * Draws the scene: with smooth rims through a buffer of several samples a pixel, or straight to
 * the screen where that would be too slow; its rims are then smoothed afterwards.
 */
export function Picture({ state, cameras }: Props) {
  const shown = useShown((s) => s.shown);
  const gl = useThree((s) => s.gl);
  const size = useThree((s) => s.size);
  const dpr = useThree((s) => s.viewport.dpr);
  const invalidate = useThree((s) => s.invalidate);
  const screen = useMemo(makeScreen, []);
  const quad = useMemo(() => new FullScreenQuad(screen.material), [screen]);
  const target = useMemo(
    () => new THREE.WebGLRenderTarget(1, 1, { samples: SAMPLES, type: THREE.HalfFloatType }),
    [],
  );
  const rims = useMemo(() => (drawsInSoftware(gl.getContext()) ? new SoftRims() : null), [gl]);
  useEffect(
    () => () => {
      target.dispose();
      release(gl, screen.material);
      quad.dispose();
      rims?.dispose(gl);
    },
    [gl, target, screen, quad, rims],
  );
  useEffect(() => {
    layer.below = gl.domElement;
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    return () => {
      // The next study begins with an empty picture.
      gl.setRenderTarget(null);
      gl.clear();
      delete gl.domElement.dataset.detail;
    };
  }, [gl]);
  const counted = useMemo(() => ({ seen: 0, since: 0 }), []);
  const shadow = useMemo(() => ({ stale: false }), []);

  const arrived = useDrawAtOnce(shown);
  const whole = frameShown(state, shown);
  const scene = useThree((s) => s.scene);
  const camera = useThree((s) => s.camera);
  /** Draw all that is looked at, into a buffer or on the screen. */
  const drawPanes = (into: THREE.WebGLRenderTarget | null, resolution: number) => {
    const { view, four } = useInterface.getState();
    for (const pane of panesOf(view.name, four)) {
      const eye = cameraOf(pane, cameras, camera, size);
      for (const prepare of beforeView) prepare(eye);
      drawPane(gl, into, pane, size, resolution, () => gl.render(scene, eye));
    }
    keepShaders(gl);
  };
  const buffer = useMemo(() => new OffscreenBuffer(), []);
  useEffect(() => () => buffer.dispose(), [buffer]);
  const seen = useCallback(() => countSeen(counted), [counted]);
  const drawOffscreen = useOffscreenPlayback(state, { buffer, into: drawPanes, seen, whole });
  const interactive = useMemo(
    () => new InteractivePictures(buffer, invalidate, seen),
    [buffer, invalidate, seen],
  );
  const debounce = useMemo(() => new Debounce(QUIET_MS), []);
  const madeReady = useMemo(() => new MadeReady(buffer), [buffer]);
  useEffect(
    () => () => {
      debounce.stop();
      madeReady.stop();
    },
    [debounce, madeReady],
  );
  useFrame(() => {
    const { level, moving } = useDetail.getState();
    const quick = moving && level > 0;
    // What changes at nearly the same time is drawn once: a full picture takes a processor long.
    if (quick) debounce.stop();
    else if (rims && !debounce.allows(invalidate)) {
      gl.domElement.dataset.detail = "waiting";
      return;
    }
    madeReady.stop();
    const { playing, dragging } = useInterface.getState();
    // A shadow that nobody sees is not drawn, but remembered to be out of date.
    if (quick && (playing || dragging)) {
      shadow.stale ||= gl.shadowMap.needsUpdate;
      gl.shadowMap.needsUpdate = false;
    } else {
      gl.shadowMap.needsUpdate ||= shadow.stale;
      shadow.stale = false;
    }
    // What is seen is a picture that was kept, over this one.
    if (drawOffscreen()) return;
    if (quick && rims) {
      // What the hand changes is drawn when it comes; a picture before would only hold it up.
      if (dragging && frames.previews > 0 && !arrived.current) return;
      arrived.current = false;
      const resolution = resolutionAt(useDetail.getState(), window.devicePixelRatio, playing);
      interactive.draw(gl, size, resolution, drawPanes);
      return;
    }
    interactive.drop();
    const told = playing ? sceneOf(state, camera, size) : null;
    const width = Math.round(size.width * dpr);
    const height = Math.round(size.height * dpr);
    const onScreen = quick || rims !== null;
    if (!onScreen) target.setSize(width, height);
    drawPanes(onScreen ? null : target, dpr);
    if (rims && !quick) {
      rims.render(gl, width, height);
      madeReady.after(gl, size, drawPanes);
    }
    if (!onScreen) {
      screen.picture.value = target.texture;
      quad.render(gl);
    }
    layer.hide();
    // While it plays there are no handles, which would stand where they are at the playhead.
    if (told !== null && level > 0 && whole !== null) keepPicture(gl.domElement, told, whole);
    drawn.pictures += 1;
    countSeen(counted);
    // For whoever waits until the stage has come to rest.
    gl.domElement.dataset.pictures = String(drawn.pictures);
    gl.domElement.dataset.detail = quick ? "quick" : "full";
  }, 1);
  return null;
}

/** Draws into the part of the screen, or of a buffer of its size, that a pane takes. */
function drawPane(
  gl: THREE.WebGLRenderer,
  target: THREE.WebGLRenderTarget | null,
  pane: Pane,
  size: { width: number; height: number },
  dpr: number,
  draw: () => void,
) {
  const left = Math.round(pane.left * size.width);
  const below = Math.round((1 - pane.top - pane.height) * size.height);
  const area = [left, below, pane.width * size.width, pane.height * size.height] as const;
  if (target) {
    const pixels = area.map((v) => Math.round(v * dpr));
    target.viewport.fromArray(pixels);
    target.scissor.fromArray(pixels);
    target.scissorTest = true;
  }
  gl.setViewport(...area);
  gl.setScissor(...area);
  gl.setScissorTest(true);
  gl.setRenderTarget(target);
  draw();
  gl.setRenderTarget(null);
  gl.setScissorTest(false);
  gl.setViewport(0, 0, size.width, size.height);
}

/** Pictures a second, told once a second while playing. */
function countSeen(counted: { seen: number; since: number }) {
  counted.seen += 1;
  const now = performance.now();
  const { playing, set, counts } = useInterface.getState();
  const since = now - counted.since;
  if (playing && since < 1000) return;
  if (playing && since < 3000) {
    set({ counts: { ...counts, rate: (counted.seen * 1000) / since } });
  }
  counted.seen = 0;
  counted.since = now;
}
