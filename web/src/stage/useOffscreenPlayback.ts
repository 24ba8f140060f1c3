import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { useOffscreen } from "../common/offscreen";
import { keptPictures } from "../common/keptPictures";
import { useInterface } from "../common/store/store";
import { playRange } from "../model/playRange";
import type { OffscreenBuffer, Draws } from "./offscreenBuffer";
import { frames } from "./frameSource";
import { layer } from "./KeptLayer";
import { median } from "./median";
import { momentToShow, nextMoment } from "./moments";
import { sceneOf } from "./scene";
import { drawn, useDetail } from "./useDetail";
import { wishFor } from "./frameRequests";

/**
 * Where a picture takes longer, the next ones are coarser, by so much each way; all are drawn again
 * in full once every moment of the loop has one.
 */
const LONG_MS = 100;
const COARSE = 0.6;
const MEASURED = 5;

interface Means {
  buffer: OffscreenBuffer;
  into: Draws;
  /** A picture is seen that was not before. */
  seen: () => void;
  /** The frame that all visible pieces show; null while some show another. */
  whole: number | null;
}

/** How long pictures take, and how fine they are for it. */
class Spent {
  private recent: number[] = [];
  coarse = false;

  note(ms: number) {
    this.recent = [...this.recent.slice(1 - MEASURED), ms];
    this.coarse ||= this.recent.length === MEASURED && median(this.recent) > LONG_MS;
  }

  get typical() {
    return median(this.recent);
  }
}

/**
 * While a loop plays where drawing is what takes long, draws its moments aside, one after another,
 * keeps the pictures, and shows at each moment the one that was kept.
 *
 * Returns what draws the moment at which the pieces stand, once all of them do; it says whether
 * nothing is to be drawn on the screen itself.
 */
export function useOffscreenPlayback(state: StudyState, means: Means): () => boolean {
  const gl = useThree((s) => s.gl);
  const camera = useThree((s) => s.camera);
  const size = useThree((s) => s.size);
  const advance = useThree((s) => s.advance);
  const playing = useInterface((s) => s.playing);
  const { buffer } = means;
  const latest = useRef(means);
  useEffect(() => {
    latest.current = means;
  });
  const drawNow = useRef<() => boolean>(() => false);

  useEffect(() => {
    if (!playing) return;
    const document = documentOf(state);
    const { frames: count, rate } = loopOf(document);
    const visible = document.pieces.filter((p) => p.visible !== false);
    const spent = new Spent();
    /** The last picture for which there was no more room. */
    let spare: { moment: number; picture: ImageBitmap } | null = null;
    const putAside = (made: typeof spare) => {
      spare?.picture.close();
      spare = made;
    };
    const finest = Math.min(window.devicePixelRatio, 2);
    const width = Math.round(size.width * finest);
    let refines = false;
    let way: 1 | -1 = 1;
    let ended = false;
    let request = 0;

    const scene = () =>
      useInterface.getState().turning || useDetail.getState().level === 0
        ? null
        : sceneOf(state, camera, size);
    const has = (frame: number) => keptPictures.has(frame) || spare?.moment === frame;
    const isReady = (frame: number) => {
      const { quality, heat, step, shards } = useInterface.getState();
      const viewing = { quality, heat, step, shards, moving: true };
      return visible.every((piece) => {
        const wish = wishFor(state, piece, frame, viewing);
        return wish === null || frames.has(wish);
      });
    };
    const within = () => playRange(useInterface.getState().range, count);

    const allHave = () => {
      const { first, count: length } = within();
      return Array.from({ length }, (_, k) => first + k).every((f) => keptPictures.has(f));
    };

    /** Show what there is for the playhead. */
    const show = () => {
      const { frame, mode } = useInterface.getState();
      const moment = momentToShow(frame, layer.frame, way, within(), mode === "loop", has);
      if (moment === null) return;
      const picture = spare?.moment === moment ? spare.picture : keptPictures.get(moment);
      if (!picture) return;
      layer.show(picture, moment);
      latest.current.seen();
    };

    /** Have the pieces stand at the moment that is drawn next. */
    const choose = () => {
      const told = scene();
      if (told === null) {
        useOffscreen.setState({ frame: null });
        return;
      }
      if (keptPictures.turnTo(told)) {
        layer.frame = null;
        putAside(null);
      }
      const { frame, pace } = useInterface.getState();
      if (useOffscreen.getState().frame === null) useOffscreen.setState({ frame });
      if (buffer.busy) return;
      const lead = pace === "every" ? 0 : Math.ceil((spent.typical * rate) / 1000);
      const most = keptPictures.isFull ? 2 : Infinity;
      const missing = nextMoment(frame, lead, most, way, within(), has, isReady);
      refines = missing === null && !keptPictures.isFull && allHave();
      const isFine = (moment: number) => keptPictures.hasFine(moment, width);
      const next = refines
        ? nextMoment(frame, lead, most, way, within(), isFine, isReady)
        : missing;
      if (next === null) return;
      useOffscreen.setState({ frame: next });
      // They stood there already, so that nothing tells that it can be drawn.
      if (latest.current.whole === next) advance(performance.now());
    };

    const drawMoment = async (told: string, moment: number) => {
      const resolution = finest * (spent.coarse && !refines ? COARSE : 1);
      const made = await buffer.picture(gl, size, resolution, latest.current.into);
      spent.note(made.ms);
      const { picture } = made;
      const kept = keptPictures.keep(told, moment, picture);
      // Of another scene, or of a loop that has ended.
      const late = ended || scene() !== told;
      if (late && !kept) picture.close();
      if (!late) putAside(kept ? null : { moment, picture });
      if (ended) return;
      drawn.pictures += 1;
      gl.domElement.dataset.pictures = String(drawn.pictures);
      show();
      choose();
    };

    drawNow.current = () => {
      const { frame } = useOffscreen.getState();
      const told = scene();
      // What is on the screen is still the picture from before it played.
      if (frame === null || told === null || !layer.covers) return false;
      const wanted = refines ? !keptPictures.hasFine(frame, width) : !keptPictures.has(frame);
      if (!buffer.busy && latest.current.whole === frame && wanted)
        // A picture that cannot be had is tried again at the next turn.
        void drawMoment(told, frame).then(
          () => useOffscreen.setState({ fails: false }),
          () => useOffscreen.setState({ fails: true }),
        );
      return true;
    };

    const tick = () => {
      choose();
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    const end = useInterface.subscribe((now, before) => {
      if (now.frame === before.frame || !now.playing) return;
      const turnedBack = now.mode === "both" && now.frame < before.frame;
      way = turnedBack ? -1 : 1;
      if (useOffscreen.getState().frame !== null) show();
    });
    return () => {
      ended = true;
      putAside(null);
      drawNow.current = () => false;
      end();
      cancelAnimationFrame(request);
      useOffscreen.setState({ frame: null });
    };
  }, [playing, state, camera, size, gl, advance, buffer]);

  return useMemo(() => () => drawNow.current(), []);
}
