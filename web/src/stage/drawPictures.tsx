import { createRoot, extend } from "@react-three/fiber";
import { QueryClientProvider, type QueryClient } from "@tanstack/react-query";
import * as THREE from "three";
import { client, unwrap, type Schemas } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { useLiveScene } from "./liveScene";
import { PictureScene, type Standing } from "./PictureScene";
import { PictureTaker } from "./PictureTaker";
import { STAGE_ROWS } from "./screenRatio";
import { inLoopAt, timesBefore } from "../model/trailTimes";
import { shutterMoment } from "./sampling";
import type { SceneMoment } from "../common/sceneMoment";
import type { ViewTold } from "./studyCamera";

type Task = Schemas["PictureTaskTold"];

/** How often the server hears that somebody is at work, in ms. */
const HEARD_MS = 5000;

/** It was called off, or is done. */
class Ended extends Error {}

/**
 * Draws the pictures of a task, one after the other, and sends them. Nothing waits for the screen, so
 * that it goes on while the window is hidden.
 */
export async function drawPictures(job: string, queries: QueryClient): Promise<void> {
  const path = { params: { path: { job_id: job } } };
  const task = unwrap(await client.GET("/api/pictures/{job_id}", path)) as Task;
  const timer = window.setInterval(
    () => void client.POST("/api/pictures/{job_id}/heard", path).catch(() => undefined),
    HEARD_MS,
  );
  let stage: Stage | null = null;
  try {
    stage = await openStage(task, queries);
    let last: number | null = null;
    for (const number of task.missing) {
      const pixels = await draw(job, stage, task, task.times[number], last);
      last = task.times[number];
      await send(job, number, pixels);
    }
  } catch (error) {
    if (error instanceof Ended) return;
    const message = error instanceof Error ? error.message : String(error);
    await client
      .POST("/api/pictures/{job_id}/cannot", { ...path, body: { message, hint: "" } })
      .catch(() => undefined);
    throw error;
  } finally {
    window.clearInterval(timer);
    // Whatever this window shows next begins without what stood for the last picture.
    stage?.close();
    useLiveScene.setState({ moment: null });
  }
}

interface Stage {
  standing: () => Standing | null;
  /** Called with each change of what stands there. */
  heard: Set<() => void>;
  taker: PictureTaker;
  close: () => void;
}

async function openStage(task: Task, queries: QueryClient): Promise<Stage> {
  const { width, height, state, quality, handles } = task;
  const canvas = document.createElement("canvas");
  let now: Standing | null = null;
  const heard = new Set<() => void>();
  const stands = (next: Standing) => {
    now = next;
    for (const hear of heard) hear();
  };
  choose(task);
  useInterface.getState().set({ quality, draw: "surface" });
  extend(THREE as never);
  const root = createRoot(canvas);
  const dpr = height / STAGE_ROWS;
  await root.configure({
    frameloop: "never",
    dpr,
    // A hair more than it is, or rounding takes a pixel away.
    size: { width: (width + 0.01) / dpr, height: (height + 0.01) / dpr, top: 0, left: 0 },
    shadows: { type: THREE.PCFShadowMap },
    gl: { alpha: true, antialias: false, preserveDrawingBuffer: true },
    onCreated: ({ gl }) => {
      gl.toneMapping = THREE.NeutralToneMapping;
      gl.shadowMap.autoUpdate = false;
    },
  });
  root.render(
    <QueryClientProvider client={queries}>
      <PictureScene state={state} handles={handles !== ""} stands={stands} />
    </QueryClientProvider>,
  );
  const taker = new PictureTaker({ width, height }, task.samples);
  const stage = { standing: () => now, heard, taker, close: () => root.unmount() };
  await until(stage, () => now !== null);
  const context = now!.gl.getContext();
  if (context.drawingBufferWidth !== width || context.drawingBufferHeight !== height)
    throw new Error(
      `This window’s graphics cannot draw ${width} × ${height}; it takes ` +
        `${context.drawingBufferWidth} × ${context.drawingBufferHeight}. Choose a smaller size.`,
    );
  return stage;
}

/** The row whose handles are drawn. */
function choose({ handles, state }: Task) {
  const [, , piece, , step] = handles.split("/");
  useInterface.getState().set({
    piece: piece ?? documentOf(state).pieces[0]?.id ?? null,
    step: step ?? null,
  });
}

/** Waits until something holds of what stands there; an error of a piece ends it. */
function until(stage: Stage, holds: () => boolean): Promise<void> {
  return new Promise((ready, fail) => {
    const look = () => {
      const { stageError } = useInterface.getState();
      if (!stageError && !holds()) return;
      stage.heard.delete(look);
      end();
      if (stageError) fail(new Error(stageError));
      else ready();
    };
    const end = useInterface.subscribe(look);
    stage.heard.add(look);
    look();
  });
}

/** Lights, view and backdrop at a moment, between two frames too. */
async function momentAt(job: string, task: Task, frame: number): Promise<SceneMoment | null> {
  const { moments } = task.state.scene;
  const { frames } = loopOf(documentOf(task.state));
  const isTold = moments.length === 1 || (Number.isInteger(frame) && moments.length === frames + 1);
  const { lens_radius, focus_on } = moments[0].view;
  if (isTold && !(lens_radius > 0 && focus_on)) return null;
  const answer = await client.GET("/api/pictures/{job_id}/moment", {
    params: { path: { job_id: job }, query: { frame } },
  });
  return unwrap(answer);
}

/** Draws the picture of a time; where pictures leave trails, those before it first. last : the time
 * of the picture before it */
async function draw(job: string, stage: Stage, task: Task, time: number, last: number | null) {
  const loop = loopOf(documentOf(task.state));
  const { trails } = (task.state.scene.moments[0] as SceneMoment).finish;
  const { times, anew } = timesBefore(time, last, trails, loop, task.spacing);
  let before = anew ? null : last;
  for (const each of trails > 0 ? [...times, time] : [time]) {
    await takeSamples(job, stage, task, each === time ? time : inLoopAt(each, loop.frames));
    if (trails > 0)
      stage.taker.leaveTrail(stage.standing()!, before === null ? null : each - before);
    before = each;
  }
  return stage.taker.finished(stage.standing()!);
}

async function takeSamples(job: string, stage: Stage, task: Task, time: number) {
  // What blurs is open for a while; without blur all samples are of one moment.
  const open = task.blur && task.samples > 1 ? (stage.standing()?.moment.view.shutter ?? 0.5) : 0;
  for (let k = 0; k < task.samples; k++) {
    const at = time + open * shutterMoment(k, task.samples);
    if (k === 0 || open > 0) await standAt(job, stage, task, at);
    const standing = stage.standing()!;
    stage.taker.sample(standing, viewOf(task, standing), k);
  }
}

/** Has everything stand as it does at a moment. */
async function standAt(job: string, stage: Stage, task: Task, frame: number) {
  const moment = await momentAt(job, task, frame);
  useLiveScene.setState({ moment });
  useInterface.getState().set({ frame });
  await until(stage, () => {
    const now = stage.standing();
    return now?.frame === frame && (moment === null || now.moment === moment);
  });
  // Effects that come after the picture has been laid out: shadows, reflections.
  await settled();
  await settled();
}

/** After all that React has put off until now; timers of hidden windows would wait a second. */
function settled(): Promise<void> {
  return new Promise((ready) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => ready();
    port2.postMessage(null);
  });
}

/** What is seen: the study's camera, or the view that was asked for. */
function viewOf({ eye, width, height }: Task, { moment }: Standing): ViewTold {
  if (!eye) return moment.view;
  return {
    ...moment.view,
    position: eye.position as ViewTold["position"],
    target: eye.target as ViewTold["target"],
    up: [0, 1, 0],
    angle: eye.angle,
    aspect: width / height,
    height: null,
    lens_radius: 0,
    near: null,
    far: null,
  };
}

async function send(job: string, number: number, pixels: Uint8Array<ArrayBuffer>) {
  const answer = await fetch(`/api/pictures/${job}/frames/${number}`, {
    method: "PUT",
    body: pixels,
    headers: { "Content-Type": "application/octet-stream" },
  });
  if (!answer.ok) throw new Error(`The server did not take picture ${number}: ${answer.status}.`);
  const { goes_on } = (await answer.json()) as Schemas["GoesOn"];
  if (!goes_on) throw new Ended();
}
