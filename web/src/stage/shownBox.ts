import * as THREE from "three";
import { useShown, type Shown } from "./useStageFrames";

/** The box around what is shown, on the stage. */
export function boxOf(shown: Shown[]): THREE.Box3 {
  const box = new THREE.Box3();
  for (const { data, place } of shown) {
    const own = new THREE.Box3(
      new THREE.Vector3(...data.header.low),
      new THREE.Vector3(...data.header.high),
    );
    box.union(own.applyMatrix4(new THREE.Matrix4().fromArray(place)));
  }
  return box;
}

/** Metres: half of what is in the box; a step where there is nothing. */
export function reachOf(box: THREE.Box3): number {
  return box.isEmpty() ? 1 : Math.max(0.05, box.getSize(new THREE.Vector3()).length() / 2);
}

/** What of these pieces is shown by now. */
export function shownOf(shown: Record<string, Shown>, pieces: string[]): Shown[] {
  return pieces.flatMap((id) => shown[id] ?? []);
}

/** Figures of a reach that are told apart: handles do not breathe with what they stand by. */
const FIGURES = 2;

/** How far what is shown reaches, in few figures, so that it changes seldom while it plays. */
export function useReach(pieces: string[]): number {
  return useShown((s) => Number(reachOf(boxOf(shownOf(s.shown, pieces))).toPrecision(FIGURES)));
}
