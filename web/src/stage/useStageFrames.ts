import { useMoment } from "./useMoment";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { create } from "zustand";
import type { Operation, StudyState } from "../api/client";
import { documentOf, loopOf, type Piece, type Step } from "../api/document";
import type { FrameData } from "../api/frame";
import { useOffscreen } from "../common/offscreen";
import { keptPictures } from "../common/keptPictures";
import { useInterface, useParts } from "../common/store/store";
import { after, playRange } from "../model/playRange";
import { changeInFull, changeWords } from "../model/countWords";
import { matrixAt } from "./matrixAt";
import { frames, stepOfError } from "./frameSource";
import { bottleneck } from "./bottleneck";
import { wishFor } from "./frameRequests";

export interface Shown {
  data: FrameData;
  place: number[];
  /** The frame that it shows. */
  frame: number;
}

/** Operations that leave only the form and one step switched on. */
function soloOperations(piece: string, recipe: Step[], solo: string | null): Operation[] {
  if (!solo) return [];
  return recipe
    .slice(1)
    .filter((step) => step.id !== solo)
    .map((step) => ({ do: "set", path: `/pieces/${piece}/recipe/${step.id}/on`, value: false }));
}

/** What is shown of each piece. */
export const useShown = create<{ shown: Record<string, Shown> }>()(() => ({ shown: {} }));

/** The frame that all visible pieces show; null while some show another. */
export function frameShown(state: StudyState, shown: Record<string, Shown>): number | null {
  const visible = documentOf(state).pieces.filter((p) => p.visible !== false);
  const [first, ...rest] = visible.map((p) => shown[p.id]?.frame ?? null);
  return first !== undefined && rest.every((f) => f === first) ? first : null;
}

/**
 * Sees to what each visible piece looks like at the moment, and to the frames ahead while playing.
 * What arrives stands in `useShown`, where whatever draws it looks by itself.
 */
export function useStageFrames(state: StudyState): void {
  const frame = useMoment();
  const live = useInterface((s) => s.live);
  const solo = useInterface((s) => s.solo);
  const quality = useInterface((s) => s.quality);
  const chosen = useInterface((s) => s.step);
  const heat = useInterface((s) => s.heat);
  const shards = useInterface((s) => s.shards);
  const active = useInterface((s) => s.piece);
  const playhead = useInterface((s) => s.frame);
  const inMotion = useInterface((s) => s.playing || s.dragging);
  // Of a picture at rest, those before it that it leaves trails of are seen as faintly as in motion.
  const moving = inMotion || frame !== playhead;
  const invalidate = useThree((s) => s.invalidate);
  const busy = useRef(new Map<string, (() => void) | null>());

  useEffect(() => {
    const document = documentOf(state);
    const { set } = useInterface.getState();
    /** Addresses of the pieces and markers that are being changed. */
    const previewed = new Set(live.map((o) => o.path.split("/").slice(0, 3).join("/")));
    // Light and surroundings change no piece.
    const alone = /^\/(pieces|markers|lights|backdrop|ground|finish)(\/|$)/;
    const wholeStudy = live.some((o) => !alone.test(o.path));
    // What is under the hand is asked for first, then what depends on it.
    const inHand = (piece: Piece) => Number(previewed.has(`/pieces/${piece.id}`));
    const inOrder = [...document.pieces].sort((a, b) => inHand(b) - inHand(a));
    for (const piece of inOrder) {
      if (piece.visible === false) continue;
      const motion = state.motion.find((m) => m.id === piece.id);
      if (!motion) continue;
      const own = soloOperations(piece.id, piece.recipe, solo && piece.id === active ? solo : null);
      const operations =
        previewed.has(`/pieces/${piece.id}`) ||
        motion.uses.some((used) => previewed.has(`/pieces/${used}`)) ||
        motion.carriers.some((carrier) => previewed.has(carrier)) ||
        wholeStudy ||
        own.length
          ? [...own, ...live]
          : [];
      const stored = wishFor(state, piece, frame, {
        quality,
        heat,
        step: chosen,
        moving,
        shards,
      });
      if (!stored) continue;
      // What stands still as it is stored may move with the changes.
      const request = operations.length ? { ...stored, frame } : stored;
      const placeNow = matrixAt(motion.places, frame, loopOf(document).frames) ?? motion.places[0];
      const show = (data: FrameData) => {
        const place = operations.length ? data.header.place : placeNow;
        useShown.setState((s) => ({ shown: { ...s.shown, [piece.id]: { data, place, frame } } }));
        report(piece.id, data);
      };
      const fail = (error: unknown) => {
        const { step, text } = stepOfError(error);
        if (step) set({ stepErrors: { [step]: text }, stageError: text });
        else set({ stageError: text });
        // Handles were not drawn while it was waited for.
        invalidate();
      };
      const ready = operations.length ? undefined : frames.peek(request);
      if (ready) {
        show(ready);
        continue;
      }
      const ask = () =>
        (operations.length
          ? frames.preview(request, operations)
          : frames.getSeen(request, useInterface.getState().playing, motion.past ? show : null)
        ).then((data) => {
          if (data) show(data);
          else invalidate();
          const { stageError } = useInterface.getState();
          if (data && stageError) set({ stepErrors: {}, stageError: null });
        }, fail);
      // One request a piece at a time; while it runs, only the newest request waits.
      const run = () => {
        busy.current.set(piece.id, null);
        void ask().finally(() => {
          const next = busy.current.get(piece.id);
          busy.current.delete(piece.id);
          next?.();
        });
      };
      if (busy.current.has(piece.id)) busy.current.set(piece.id, run);
      else run();
    }
  }, [state, frame, live, solo, quality, chosen, heat, shards, active, moving, invalidate]);

  // Another study begins with nothing.
  useEffect(() => () => useShown.setState({ shown: {} }), [state.id]);
  usePrefetch(state);
}

const JUDGED_EVERY_MS = 1500;
const TOLD_EVERY_MS = 250;
const ASIDE_AHEAD = 16;
let untold = 0;
let tell = () => {};

/** Counts and costs of the chosen piece; no more often than they can be read. */
function report(piece: string, data: FrameData) {
  const { piece: active } = useInterface.getState();
  if (active !== piece && active !== null) return;
  tell = () => {
    untold = 0;
    const { set, counts } = useInterface.getState();
    const { points, faces, curves, steps } = data.header;
    const { shards } = data.header;
    const copies = data.header.copies?.count ?? 0;
    set({
      counts: {
        ...counts,
        points,
        faces,
        curves,
        copies,
        shards,
        ms: steps.reduce((sum, s) => sum + s.ms, 0),
      },
      times: Object.fromEntries(
        steps.map((s, k) => [
          s.id,
          {
            ms: s.ms,
            reused: s.reused,
            change: changeWords(steps[k - 1], s),
            counts: changeInFull(steps[k - 1], s),
            volume: s.volume_change ?? null,
            told: s.told ?? "",
          },
        ]),
      ),
    });
  };
  untold ||= window.setTimeout(() => tell(), TOLD_EVERY_MS);
}

/** While playing, ask for the frames ahead and note which are ready. */
function usePrefetch(state: StudyState) {
  const { playing, quality, heat, step, shards } = useParts(
    "playing",
    "quality",
    "heat",
    "step",
    "shards",
  );
  useEffect(() => {
    const { set } = useInterface.getState();
    const document = documentOf(state);
    const { frames: count, rate } = loopOf(document);
    const visible = document.pieces.filter((p) => p.visible !== false);
    const viewing = { quality, heat, step, shards, moving: playing };
    const requests = (frame: number) =>
      visible.flatMap((piece) => wishFor(state, piece, frame, viewing) ?? []);
    const isReady = (frame: number) => requests(frame).every((w) => frames.has(w));
    const tell = () => {
      const ready = new Set<number>();
      for (let f = 0; f < count; f++) if (isReady(f)) ready.add(f);
      const known = useInterface.getState().ready;
      const same = known.size === ready.size && [...ready].every((f) => known.has(f));
      if (!same) set({ ready });
    };
    tell();
    if (!playing) return;
    let stop = false;
    let told = performance.now();
    /** Once a second: what holds the rate back, if anything does. */
    const judge = () => {
      if (performance.now() - told < JUDGED_EVERY_MS) return;
      told = performance.now();
      const { counts, times, piece, bottleneck: before } = useInterface.getState();
      const moves = state.motion.some((m) => m.moves || m.places.length > 1);
      if (!moves || counts.rate <= 0) return;
      const steps = state.motion.find((m) => m.id === piece)?.steps ?? [];
      const slowest = steps
        .map((s) => ({ title: s.title, ms: times[s.id]?.ms ?? 0 }))
        .sort((a, b) => b.ms - a.ms)[0];
      const said = bottleneck.say(counts.rate, rate, slowest ?? null);
      if (said !== before) set({ bottleneck: said });
    };
    const timer = window.setInterval(() => {
      const { frame, solo, live, range } = useInterface.getState();
      const within = playRange(range, count);
      bottleneck.wanted(isReady(after(frame, 1, within)));
      // What is shown then is not stored, and cannot be asked for ahead.
      if (solo || live.length) return;
      // Where pictures are drawn off screen, computing far ahead would take the processor from them.
      const drawsOffscreen = useOffscreen.getState().frame !== null;
      const far = drawsOffscreen ? Math.min(ASIDE_AHEAD, within.count) : within.count;
      for (let ahead = 0; ahead < far && frames.inFlight < 4; ahead++) {
        const next = after(frame, ahead, within);
        if (drawsOffscreen && keptPictures.has(next)) continue;
        for (const request of requests(next)) {
          if (!frames.has(request) && frames.inFlight < 4)
            void frames.get(request, true).catch(() => undefined);
        }
      }
      if (!stop) tell();
      judge();
    }, 60);
    return () => {
      stop = true;
      set({ bottleneck: "" });
      window.clearInterval(timer);
    };
  }, [state, playing, quality, heat, step, shards]);
}
