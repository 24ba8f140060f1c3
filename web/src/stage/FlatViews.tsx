import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import { useInterface, type View } from "../common/store/store";
import { aim, acrossView, fitted, isFlat, useFlat, zoomed, type FlatView } from "./flatView";
import { grips } from "./Grip";
import { paneAt, panesOf, withinPane, type Pane } from "./panes";
import { Turning } from "./turning";

const ZOOM = 1.0015;

export interface Cameras extends Record<FlatView, THREE.OrthographicCamera> {
  /** The study's camera, where it has no perspective; null where it has. */
  own: THREE.OrthographicCamera | null;
}

export function makeCameras(): Cameras {
  const make = () => new THREE.OrthographicCamera();
  return { front: make(), side: make(), top: make(), own: null };
}

/** The camera of a pane, turned to what the pane shows. */
export function cameraOf(
  pane: Pane,
  cameras: Cameras,
  perspective: THREE.Camera,
  size: { width: number; height: number },
): THREE.Camera {
  if (pane.view === "camera" && cameras.own) return cameras.own;
  if (!isFlat(pane.view)) return perspective;
  const camera = cameras[pane.view];
  const flat = useFlat.getState();
  // Far enough for everything that fits in the view to be in front of the camera.
  const depth = Math.max(100, flat.perPixel * (size.width + size.height) * 4);
  aim(camera, pane.view, flat, pane.width * size.width, pane.height * size.height, depth);
  return camera;
}

/**
 * What the pointer does in the flat views: dragging moves them, the wheel brings them nearer; and
 * to which of several views it belongs.
 */
export function FlatViews({ box, cameras }: { box: THREE.Box3; cameras: Cameras }) {
  const view = useInterface((s) => s.view);
  const four = useInterface((s) => s.four);
  const { setEvents, camera, size, invalidate } = useThree();
  const source = useThree((s) => s.events.connected) as HTMLElement | undefined;
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const panes = useMemo(() => panesOf(view.name, four), [view.name, four]);
  const held = useRef<Pane | null>(null);

  useFitting(box, panes, view);
  useEffect(() => useFlat.subscribe(() => invalidate()), [invalidate]);
  useLayoutEffect(() => invalidate(), [panes, invalidate]);

  useLayoutEffect(() => {
    setEvents({
      compute: (event, state) => {
        const x = event.offsetX / state.size.width;
        const y = event.offsetY / state.size.height;
        const pane = held.current ?? paneAt(panes, x, y);
        state.pointer.set(...withinPane(pane, x, y));
        state.raycaster.setFromCamera(
          state.pointer,
          cameraOf(pane, cameras, state.camera, state.size),
        );
      },
    });
  }, [setEvents, panes, cameras]);

  useEffect(() => {
    if (!source) return;
    const turning = new Turning();
    let last: [number, number] | null = null;
    const paneOf = (event: MouseEvent) => {
      const area = source.getBoundingClientRect();
      const x = (event.clientX - area.left) / area.width;
      const y = (event.clientY - area.top) / area.height;
      return { pane: paneAt(panes, x, y), x, y };
    };
    // Before the controls of the perspective hear of it, which only its own pane moves.
    const choose = (event: MouseEvent) => {
      const { pane } = paneOf(event);
      if (event.type === "pointerdown") held.current = pane;
      if (controls) controls.enabled = !isFlat(pane.view);
    };
    const down = (event: PointerEvent) => {
      if (grips.held || !held.current || !isFlat(held.current.view)) return;
      last = [event.clientX, event.clientY];
      source.setPointerCapture(event.pointerId);
      turning.start();
    };
    const move = (event: PointerEvent) => {
      const pane = held.current;
      if (!last || !pane || !isFlat(pane.view)) return;
      const { centre, perPixel } = useFlat.getState();
      const right = (last[0] - event.clientX) * perPixel;
      const up = (event.clientY - last[1]) * perPixel;
      last = [event.clientX, event.clientY];
      useFlat.setState({ centre: centre.clone().add(acrossView(pane.view, right, up)) });
    };
    const up = () => {
      if (last) turning.end();
      last = null;
      held.current = null;
    };
    const wheel = (event: WheelEvent) => {
      choose(event);
      const { pane, x, y } = paneOf(event);
      if (!isFlat(pane.view)) return;
      event.preventDefault();
      turning.start();
      turning.end();
      const flat = useFlat.getState();
      const [across, upward] = withinPane(pane, x, y);
      useFlat.setState(
        zoomed(
          flat,
          pane.view,
          ZOOM ** event.deltaY,
          (across * pane.width * size.width * flat.perPixel) / 2,
          (upward * pane.height * size.height * flat.perPixel) / 2,
        ),
      );
    };
    source.addEventListener("pointerdown", choose, { capture: true });
    source.addEventListener("pointerdown", down);
    source.addEventListener("pointermove", move);
    source.addEventListener("pointerup", up);
    source.addEventListener("pointercancel", up);
    source.addEventListener("wheel", wheel, { capture: true, passive: false });
    return () => {
      source.removeEventListener("pointerdown", choose, { capture: true });
      source.removeEventListener("pointerdown", down);
      source.removeEventListener("pointermove", move);
      source.removeEventListener("pointerup", up);
      source.removeEventListener("pointercancel", up);
      source.removeEventListener("wheel", wheel, { capture: true });
      turning.stop();
      if (controls) controls.enabled = true;
    };
  }, [source, controls, panes, camera, size]);
  return null;
}

/** Brings what is shown into the flat views when they are opened, and when it is asked for. */
function useFitting(
  box: THREE.Box3,
  panes: Pane[],
  view: { name: View; fit: boolean; count: number },
) {
  const size = useThree((s) => s.size);
  const done = useRef({ count: -1, panes: 0 });
  const flats = panes.map((p) => p.view).filter(isFlat);
  const known = !box.isEmpty();
  useEffect(() => {
    const before = done.current;
    const asked = before.count !== view.count && (view.fit || isFlat(view.name));
    if (!known || !flats.length || !(asked || before.panes !== panes.length)) return;
    done.current = { count: view.count, panes: panes.length };
    const { width, height } = panes[0];
    useFlat.setState(fitted(box, flats, width * size.width, height * size.height));
  });
}
