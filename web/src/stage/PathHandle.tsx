import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useRef } from "react";
import * as THREE from "three";
import type { DocValue } from "../api/document";
import { useInterface, useParts } from "../common/store/store";
import { closed, extended, moved, without, type DrawnPath } from "../model/drawnPaths";
import { Grip, grips } from "./Grip";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";

const WIDE = 1e4;
/** Pixels that the pointer goes from one knot to the next while it draws without pause. */
const APART_PX = 22;

/**
 * Paths in the plane of x and y: knots are dragged, and removed by a double click. While drawing, a
 * click or a drag on the stage adds knots; the first knot of a path closes it.
 */
export function PathHandle({ given, change, finish }: HandleProps) {
  const { drawing, set } = useParts("drawing", "set");
  const paths = given("paths") as unknown as DrawnPath[];
  const begun = useRef(false);
  const pressed = useRef<[number, number] | null>(null);
  const invalidate = useThree((s) => s.invalidate);
  // The newest, for events that come faster than the stage is drawn.
  const latest = useRef(paths);
  useEffect(() => {
    // While something is not stored, what was drawn last is newer than what was rendered last.
    if (useInterface.getState().live.length === 0) latest.current = paths;
    invalidate();
  }, [paths, invalidate]);
  useLayoutEffect(() => {
    begun.current = false;
  }, [drawing]);
  useEffect(() => {
    if (!drawing) return;
    const key = (e: KeyboardEvent) => {
      if (e.key !== "Enter" && e.key !== "Escape") return;
      e.preventDefault();
      e.stopPropagation();
      // The first ends the path, the next the drawing.
      if (begun.current) begun.current = false;
      else set({ drawing: false });
    };
    window.addEventListener("keydown", key, { capture: true });
    return () => window.removeEventListener("keydown", key, { capture: true });
  }, [drawing, set]);
  const show = (next: DrawnPath[]) => {
    latest.current = next;
    change({ paths: next as unknown as DocValue });
  };
  const place = (event: ThreeEvent<PointerEvent>) => {
    const local = event.eventObject.worldToLocal(event.point.clone());
    pressed.current = [event.nativeEvent.clientX, event.nativeEvent.clientY];
    show(extended(latest.current, begun.current, local.x, local.y));
    begun.current = true;
  };
  const last = paths[paths.length - 1];
  return (
    <>
      {paths.map((path, p) => (
        <group key={p}>
          {path.knots.length > 1 && (
            <HandleLine
              points={[...path.knots, ...(path.closed ? [path.knots[0]] : [])].map(
                ([x, y]) => [x, y, 0] as const,
              )}
              width={1}
              dash={0.03}
              gap={0.03}
              opacity={0.6}
            />
          )}
          {path.knots.map(([x, y], k) => (
            <Grip
              key={k}
              at={new THREE.Vector3(x, y, 0)}
              small={!(drawing && path === last && k === 0)}
              flat
              onPress={() => {
                if (!drawing || !begun.current || path !== last || k !== 0) return false;
                begun.current = false;
                show(closed(latest.current));
                finish();
                return true;
              }}
              onDrag={(to) => show(moved(latest.current, p, k, to.x, to.y))}
              onEnd={finish}
              onRemove={() => {
                show(without(latest.current, p, k));
                finish();
              }}
            />
          ))}
        </group>
      ))}
      {drawing && (
        <mesh
          onPointerDown={(event) => {
            if (event.nativeEvent.button !== 0) return;
            event.stopPropagation();
            (event.target as Element).setPointerCapture(event.pointerId);
            grips.held = true;
            place(event);
          }}
          onPointerMove={(event) => {
            if (!pressed.current) return;
            const [x, y] = pressed.current;
            const { clientX, clientY } = event.nativeEvent;
            if (Math.hypot(clientX - x, clientY - y) > APART_PX) place(event);
          }}
          onPointerUp={(event) => {
            (event.target as Element).releasePointerCapture(event.pointerId);
            grips.held = false;
            pressed.current = null;
            finish();
          }}
        >
          <planeGeometry args={[WIDE, WIDE]} />
          <meshBasicMaterial visible={false} side={THREE.DoubleSide} />
        </mesh>
      )}
    </>
  );
}
