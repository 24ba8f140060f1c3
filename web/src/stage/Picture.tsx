import { useFrame, useThree } from "@react-three/fiber";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, type RefObject } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { keptPictures } from "../common/keptPictures";
import { useInterface } from "../common/store/store";
import { OffscreenBuffer } from "./offscreenBuffer";
import { beforeView } from "./beforeView";
import { Debounce } from "./debounce";
import { cameraOf, type Cameras } from "./FlatViews";
import { frames } from "./frameSource";
import { layer } from "./KeptLayer";
import { Finish, isFinished, makeTarget, type FinishTold } from "./finish";
import { keepShaders } from "./keptShaders";
import { MadeReady } from "./madeReady";
import { panesOf, type Pane } from "./panes";
import { InteractivePictures } from "./interactivePictures";
import { sceneOf } from "./scene";
import { focusOf } from "./focusOf";
import { LiveBlur } from "./liveBlur";
import { Refining, type RefineTo } from "./Refining";
import { screenRatio } from "./screenRatio";
import { SoftRims } from "./softRims";
import { drawsInSoftware } from "./software";
import { drawn, resolutionAt, useDetail } from "./useDetail";
import { useOffscreenPlayback } from "./useOffscreenPlayback";
import { Trails } from "./trails";
import { TrailsAtRest } from "./trailsAtRest";
import { documentOf, loopOf } from "../api/document";
import { inLoopAt } from "../model/trailTimes";
import { useLiveScene } from "./liveScene";
import { sceneMoment } from "../common/sceneMoment";
import { frameShown, useShown, type Shown } from "./useStageFrames";

const SAMPLES = 4;
const QUIET_MS = 50;

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
  const finisher = useMemo(() => new Finish(), []);
  const rims = useMemo(() => (drawsInSoftware(gl.getContext()) ? new SoftRims() : null), [gl]);
  const target = useMemo(() => makeTarget(rims ? 0 : SAMPLES), [rims]);
  useEffect(
    () => () => {
      target.dispose();
      finisher.dispose(gl);
      rims?.dispose(gl);
    },
    [gl, target, finisher, rims],
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
    screenRatio.value = resolution;
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
  const refining = useMemo(() => new Refining(), []);
  const liveBlur = useMemo(() => new LiveBlur(), []);
  const trails = useMemo(() => new Trails(), []);
  const resting = useMemo(() => new TrailsAtRest(), []);
  const lastLeft = useMemo(() => ({ frame: null as number | null }), []);
  // Another moment is wanted than the one whose trails are being drawn.
  const playhead = useInterface((s) => s.frame);
  useEffect(() => resting.stop(), [playhead, resting]);
  // What arrives is drawn before this component knows of it.
  useEffect(() => {
    if (resting.wanted !== null && resting.wanted === whole) invalidate();
  }, [whole, resting, invalidate]);
  /** All that trails at rest depend on: what is shown, from where, and how much is left of it. */
  const dependsOn = ({ trails: left, trails_as: as }: FinishTold): unknown[] => [
    useInterface.getState().frame,
    size.width,
    size.height,
    left,
    as,
    ...Object.values(useShown.getState().shown).map((one) => one.data),
    ...camera.matrixWorld.elements,
    ...camera.projectionMatrix.elements,
  ];
  /** Draws one of the pictures of which something is left in the one at rest. */
  const drawTrail = () => {
    const { finish } = sceneMoment(state, resting.wanted!);
    target.setSize(Math.round(size.width * dpr), Math.round(size.height * dpr));
    drawPanes(target, dpr);
    const one = eyeOfView(cameras, camera, size);
    if (one) finisher.darken(gl, target, finish, one);
    trails.add(gl, target, finish);
    if (!resting.drawn()) {
      // The next is drawn when it arrives.
      if (resting.wanted === whole) invalidate();
      return;
    }
    finisher.render(gl, trails.target, finish);
    if (rims) rims.render(gl, target.width, target.height);
    drawn.pictures += 1;
    gl.domElement.dataset.pictures = String(drawn.pictures);
    gl.domElement.dataset.detail = "full";
    gl.domElement.dataset.trails = "drawn";
    resting.keep(dependsOn(finish));
  };
  useEffect(
    () => () => {
      debounce.stop();
      madeReady.stop();
      refining.dispose();
      resting.stop();
      trails.dispose();
      liveBlur.dispose();
    },
    [debounce, liveBlur, madeReady, refining, resting, trails],
  );
  useFrame(() => {
    const { level, moving } = useDetail.getState();
    const quick = moving && level > 0;
    // What changes at nearly the same time is drawn once: a full picture takes a processor long.
    if (quick) debounce.stop();
    else if (resting.wanted === null && rims && !debounce.allows(invalidate)) {
      gl.domElement.dataset.detail = "waiting";
      return;
    }
    madeReady.stop();
    refining.stop();
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
    if (resting.wanted !== null) {
      if (moving || playing || dragging) resting.stop();
      else {
        if (whole !== resting.wanted) return;
        drawTrail();
        return;
      }
    }
    resting.stop();
    if (quick && rims) {
      // What the hand changes is drawn when it comes; a picture before would only hold it up.
      if (dragging && frames.previews > 0 && !arrived.current) return;
      arrived.current = false;
      const resolution = resolutionAt(useDetail.getState(), window.devicePixelRatio, playing);
      gl.domElement.dataset.lens = "";
      interactive.draw(gl, size, resolution, drawPanes);
      return;
    }
    interactive.drop();
    const told = playing ? sceneOf(state, camera, size) : null;
    const width = Math.round(size.width * dpr);
    const height = Math.round(size.height * dpr);
    const { finish, view: seen } =
      useLiveScene.getState().moment ?? sceneMoment(state, useInterface.getState().frame);
    const finished = !quick && isFinished(finish);
    const { view, four, draw } = useInterface.getState();
    // Behind the picture of path tracing nothing is made finer: it would only take its time.
    const covered = draw === "traced" && !playing;
    const trailed = finished && finish.trails > 0 && !covered;
    // Where it is looked through the study's camera, its lens blurs what is not in focus.
    const lens = !quick && view.name === "camera" && !four && seen.lens_radius > 0;
    const blurs = lens && !playing && !covered;
    const refined: RefineTo = {
      gl,
      target,
      eye: camera as THREE.PerspectiveCamera,
      view: seen,
      finish: finished ? finish : null,
      finisher,
      draw: () => drawPanes(target, dpr),
      focus: () => focusOf(state, seen, useInterface.getState().frame),
    };
    // A processor smooths rims on the screen, which is quicker, but what is finished is light still.
    const onScreen = quick || (rims !== null && !finished && !blurs);
    if (!onScreen) target.setSize(width, height);
    // A graphics card draws a few pictures from all over the lens at once, whatever moves.
    const atOnce = lens && rims === null;
    const picture = atOnce ? liveBlur.draw(refined) : target;
    if (!atOnce) drawPanes(onScreen ? null : target, dpr);
    if (!onScreen) {
      const one = useInterface.getState().four ? null : eyeOfView(cameras, camera, size);
      if (finished && one && !atOnce) finisher.darken(gl, target, finish, one);
      const rested = trailed && !playing && whole !== null && resting.has(dependsOn(finish));
      if (rested) {
        // A handle has changed, or something that shows nothing else.
        trails.again(gl, picture, finish);
        finisher.render(gl, trails.target, finish);
      } else if (trailed && playing && whole !== null) {
        resting.forget();
        const { frames: count } = loopOf(documentOf(state));
        // Where pictures were left out, their trails have faded meanwhile.
        trails.add(
          gl,
          picture,
          finish,
          inLoopAt(whole - (lastLeft.frame ?? whole - 1), count) || 1,
        );
        lastLeft.frame = whole;
        finisher.render(gl, trails.target, finish);
      } else {
        lastLeft.frame = null;
        resting.forget();
        trails.begin();
        finisher.render(gl, picture, finished ? finish : null);
      }
      gl.domElement.dataset.lens = atOnce ? "open" : "";
    }
    if (trailed && !playing && whole !== null && !resting.has(dependsOn(finish))) {
      resting.after(whole, loopOf(documentOf(state)), finish.trails, () => {
        trails.begin();
        invalidate();
      });
    }
    if (blurs && !trailed) refining.after(refined);
    if (rims && !quick) {
      rims.render(gl, width, height);
      madeReady.after(gl, size, drawPanes);
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

/** The camera of the only view. */
function eyeOfView(
  cameras: Cameras,
  camera: THREE.Camera,
  size: { width: number; height: number },
): THREE.Camera | null {
  const { view, four } = useInterface.getState();
  const [pane] = panesOf(view.name, four);
  return pane ? cameraOf(pane, cameras, camera, size) : null;
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
