import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { client, unwrap, type Schemas } from "../api/client";
import type { DocValue } from "../api/document";
import { useInterface, useParts } from "../common/store/store";
import { HANDLE } from "./Grip";
import type { HandleProps } from "./handleProps";
import { usePointer } from "./usePointer";
import { useTool } from "./useTool";

type Request = Schemas["PickBody"]["selection"];

const SAYS = "Click or drag a box; Shift takes away. With Alt a drag turns the view.";
/** Pixels that the pointer may move in a click. */
const STILL_PX = 4;

/** Elements that are picked by clicks and boxes on the stage. */
export function PickHandle({ given, change, finish, ...props }: HandleProps) {
  const { pick, set } = useParts("pick", "set");
  const active = useTool("pick", SAYS, () => set({ heat: true }));
  const element = useThree((s) => s.gl.domElement);
  const from = useRef<{ at: THREE.Vector2; x: number; y: number } | null>(null);
  const frame = useRef<HTMLDivElement | null>(null);
  useEffect(
    () => () => {
      frame.current?.remove();
      set({ tool: null });
    },
    [set],
  );
  const ask = async (selection: Request, leaves: boolean) => {
    const { frame, quality, say } = useInterface.getState();
    const adds = (pick.how === "add") !== leaves;
    try {
      const { picked } = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/pick", {
          params: { path: { study_id: props.study, piece_id: props.piece } },
          body: {
            step: props.stepId,
            of: given("of") as Schemas["PickBody"]["of"],
            selection,
            how: adds ? "add" : "remove",
            picked: given("picked") as never,
            frame,
            quality,
          },
        }),
      );
      change({ picked: picked as unknown as DocValue });
      finish();
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  const outline = (a: { x: number; y: number }, b: { x: number; y: number }) => {
    const holder = element.parentElement;
    if (!frame.current) {
      frame.current = document.createElement("div");
      frame.current.style.cssText = `position:fixed;pointer-events:none;border:1px dashed ${HANDLE};background:${HANDLE}22;z-index:5`;
      holder?.append(frame.current);
    }
    Object.assign(frame.current.style, {
      left: `${Math.min(a.x, b.x)}px`,
      top: `${Math.min(a.y, b.y)}px`,
      width: `${Math.abs(a.x - b.x)}px`,
      height: `${Math.abs(a.y - b.y)}px`,
    });
  };
  usePointer(active, {
    down: ({ at, event }) => {
      if (event.altKey) return false;
      from.current = { at, x: event.clientX, y: event.clientY };
      return true;
    },
    move: ({ event }, held) => {
      if (held && from.current) outline(from.current, { x: event.clientX, y: event.clientY });
    },
    up: ({ at, ray, camera, event }) => {
      const start = from.current;
      from.current = null;
      frame.current?.remove();
      frame.current = null;
      if (!start) return;
      const way = Math.hypot(event.clientX - start.x, event.clientY - start.y);
      if (way < STILL_PX) {
        const { origin, direction } = ray;
        void ask(
          { by: "ray", origin: origin.toArray(), direction: direction.toArray() },
          event.shiftKey,
        );
        return;
      }
      const view = new THREE.Matrix4()
        .multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
        .transpose();
      void ask(
        {
          by: "box",
          view: view.toArray(),
          low: [Math.min(at.x, start.at.x), Math.min(at.y, start.at.y)],
          high: [Math.max(at.x, start.at.x), Math.max(at.y, start.at.y)],
          eye: camera.position.toArray(),
          through: pick.through,
        },
        event.shiftKey,
      );
    },
  });
  return null;
}
