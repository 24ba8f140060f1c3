import { useThree } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import * as THREE from "three";
import type { DocValue } from "../api/document";
import { useInterface, useParts, type Brush } from "../common/store/store";
import { ROUND } from "./BallHandle";
import { begun, goneOn, type Stroke } from "./brushStroke";
import { HandleLine } from "./HandleLine";
import type { HandleProps } from "./handleProps";
import type { Triple } from "./heldValues";
import { hitOf, mixed, normalAt, placesOf, type Hit } from "./rayHit";
import { usePointer } from "./usePointer";
import { useTool } from "./useTool";
import { useRest } from "./useRest";

const SAYS = "Drag paints; Shift erases, Ctrl softens. Beside the piece a drag turns the view.";
const CIRCLE = ROUND.map(([a, b]) => [a, b, 0] as Triple);

/** A mask that is drawn: the brush follows the surface, and leaves its path on the rest shape. */
export function BrushHandle(props: HandleProps) {
  const { given, change, finish, shown, size } = props;
  const { brush, set } = useParts("brush", "set");
  const fitting = Number((size * 0.2).toPrecision(2));
  const active = useTool("brush", SAYS, () =>
    set({ heat: true, brush: { ...brush, size: brush.size ?? fitting } }),
  );
  const frame = useInterface((s) => s.frame);
  const rest = useRest(props.study, props.piece, props.contentKey, frame);
  const invalidate = useThree((s) => s.invalidate);
  const [over, setOver] = useState<Hit | null>(null);
  const latest = useRef<Stroke[]>([]);
  const stroke = useRef<Stroke | null>(null);
  const strokes = given("strokes") as unknown as Stroke[];
  const radius = brush.size ?? fitting;
  useEffect(() => {
    // While something is not stored, what was drawn last is newer than what was rendered last.
    if (useInterface.getState().live.length === 0) latest.current = strokes;
  }, [strokes]);
  useEffect(() => () => set({ tool: null }), [set]);
  useEffect(invalidate, [over, active, invalidate]);
  const atRest = (hit: Hit): number[] | null => {
    if (!rest || rest.length !== placesOf(shown.data).length) return null;
    const surface = shown.data.meshes[0].topology.triangles.length > 0;
    const normal = surface ? normalAt(rest, hit) : new THREE.Vector3();
    return [...mixed(rest, hit).toArray(), ...normal.toArray()];
  };
  const show = () =>
    change({ strokes: [...latest.current, stroke.current] as unknown as DocValue });
  usePointer(active, {
    down: ({ ray, event }) => {
      const hit = hitOf(shown.data, shown.place, ray);
      const place = hit && atRest(hit);
      if (!place) return false;
      const does: Brush["does"] = event.shiftKey ? "erase" : event.ctrlKey ? "soften" : brush.does;
      stroke.current = begun(brush, radius, does, place);
      show();
      return true;
    },
    move: ({ ray }, held) => {
      const hit = hitOf(shown.data, shown.place, ray);
      setOver(hit);
      const place = held && hit ? atRest(hit) : null;
      if (!place || !stroke.current) return;
      const next = goneOn(stroke.current, place);
      if (next === stroke.current) return;
      stroke.current = next;
      show();
    },
    up: () => {
      if (stroke.current) latest.current = [...latest.current, stroke.current];
      stroke.current = null;
      finish();
    },
    leave: () => setOver(null),
  });
  if (!active || !over) return null;
  const surface = shown.data.meshes[0].topology.triangles.length > 0;
  const normal = surface ? normalAt(placesOf(shown.data), over) : new THREE.Vector3(0, 0, 1);
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 0, 1), normal);
  return (
    <group position={over.place} quaternion={turn} scale={radius}>
      {[1, 1 - brush.softness / 100].map((share, k) => (
        <HandleLine
          key={k}
          points={CIRCLE}
          scale={Math.max(share, 0.02)}
          width={k === 0 ? 1.8 : 1}
          opacity={k === 0 ? 0.95 : 0.5}
        />
      ))}
    </group>
  );
}
