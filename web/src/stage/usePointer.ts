import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type * as THREE from "three";

export interface Pointed {
  /** On the stage, in metres. */
  ray: THREE.Ray;
  /** Across and upwards, -1 to 1 in the view that the pointer is in. */
  at: THREE.Vector2;
  /** Of that view. */
  camera: THREE.Camera;
  event: PointerEvent;
}

interface Listeners {
  /** True where it takes the pointer, so that the view is not turned. */
  down: (pointed: Pointed) => boolean;
  move: (pointed: Pointed, held: boolean) => void;
  up: (pointed: Pointed) => void;
  leave?: () => void;
}

/** The pointer on the stage, before whoever turns the view has it. */
export function usePointer(active: boolean, listeners: Listeners) {
  const element = useThree((s) => s.gl.domElement);
  const get = useThree((s) => s.get);
  const latest = useRef(listeners);
  useEffect(() => {
    latest.current = listeners;
  });
  useEffect(() => {
    if (!active) return;
    let held: number | null = null;
    const pointed = (event: PointerEvent): Pointed => {
      const state = get();
      // It knows which of several views the pointer is in.
      state.events.compute?.(event as never, state);
      const { raycaster, pointer } = state;
      return { ray: raycaster.ray.clone(), at: pointer.clone(), camera: raycaster.camera, event };
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !latest.current.down(pointed(event))) return;
      held = event.pointerId;
      element.setPointerCapture(held);
      event.stopImmediatePropagation();
      event.preventDefault();
    };
    const move = (event: PointerEvent) =>
      latest.current.move(pointed(event), held === event.pointerId);
    const up = (event: PointerEvent) => {
      if (held !== event.pointerId) return;
      held = null;
      latest.current.up(pointed(event));
    };
    const leave = () => latest.current.leave?.();
    const early = { capture: true };
    element.addEventListener("pointerdown", down, early);
    element.addEventListener("pointermove", move, early);
    element.addEventListener("pointerup", up, early);
    element.addEventListener("pointercancel", up, early);
    element.addEventListener("pointerleave", leave);
    return () => {
      element.removeEventListener("pointerdown", down, early);
      element.removeEventListener("pointermove", move, early);
      element.removeEventListener("pointerup", up, early);
      element.removeEventListener("pointercancel", up, early);
      element.removeEventListener("pointerleave", leave);
    };
  }, [active, element, get]);
}
