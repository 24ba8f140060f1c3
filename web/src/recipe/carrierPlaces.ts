import * as THREE from "three";
import type { Catalogue, StudyState } from "../api/client";
import { loopOf, type DocValue, type Layer, type Piece, type Step } from "../api/document";
import { documentOf } from "../api/queries";
import { turnedBy } from "../stage/gripPlaces";
import { laneValue } from "../values/lanes";

/** Where a piece stands on the stage at a frame. */
export function placeAt(state: StudyState, piece: string, frame: number): THREE.Matrix4 {
  const places = state.motion.find((m) => m.id === piece)?.places ?? [];
  const now = places[Math.round(frame) % Math.max(places.length, 1)];
  return now ? new THREE.Matrix4().fromArray(now) : new THREE.Matrix4();
}

/** The values that say where a layer is, the first that it has; as zygomorph/core/carriers.py. */
const PLACES = ["centre", "position", "middle", "offset"];

/** Where a layer of a mask is at a frame, seen from where it is measured. */
export function layerPlace(
  state: StudyState,
  piece: Piece,
  step: Step,
  layer: Layer,
  catalogue: Catalogue,
  frame: number,
): THREE.Matrix4 {
  const entry = catalogue.layers.find((d) => d.key === layer.layer);
  const { frames } = loopOf(documentOf(state));
  const lanes =
    state.motion.find((m) => m.id === piece.id)?.steps.find((w) => w.id === step.id)?.lanes ?? [];
  const triple = (name: string) =>
    ((layer.values?.[name] ?? entry?.values[name]?.default) as DocValue[]).map((v, k) => {
      if (typeof v === "number") return v;
      const path = `where/layers/${layer.id}/values/${name}/${k}`;
      return (
        laneValue(
          lanes.find((l) => l.path === path),
          frame,
          frames,
        ) ?? 0
      );
    }) as [number, number, number];
  const name = PLACES.find((n) => entry?.values[n]?.kind === "vector");
  const matrix = new THREE.Matrix4();
  if (entry?.values.turn?.kind === "vector")
    matrix.makeRotationFromQuaternion(turnedBy(triple("turn")));
  return name ? matrix.setPosition(...triple(name)) : matrix;
}
