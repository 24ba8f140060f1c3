import { useThree } from "@react-three/fiber";
import { useLayoutEffect } from "react";
import type * as THREE from "three";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { shownBox } from "../common/shownBox";
import { Handles } from "./Handles";
import { Lighting } from "./Lighting";
import { boxOf, shownOf } from "./shownBox";
import { ShownPiece } from "./ShownPiece";
import { useDomes } from "./domes";
import { domesOf } from "./sky";
import { Surroundings } from "./Surroundings";
import { useSceneMoment } from "./useMoment";
import { frameShown, useShown, useStageFrames } from "./useStageFrames";
import type { SceneMoment } from "../common/sceneMoment";

/** What stands ready to be drawn. */
export interface Standing {
  gl: THREE.WebGLRenderer;
  scene: THREE.Scene;
  camera: THREE.PerspectiveCamera;
  /** The frame that all pieces show; null while some show another. */
  frame: number | null;
  moment: SceneMoment;
  box: THREE.Box3;
}

interface Props {
  state: StudyState;
  handles: boolean;
  /** Called whenever something else stands there. */
  stands: (now: Standing) => void;
}

/** A study for pictures that are taken away: what is seen of it, and nothing to work on it with. */
export function PictureScene({ state, handles, stands }: Props) {
  useStageFrames(state);
  const shown = useShown((s) => s.shown);
  const visible = documentOf(state).pieces.filter((p) => p.visible !== false);
  const box = boxOf(
    shownOf(
      shown,
      visible.map((p) => p.id),
    ),
  );
  useLayoutEffect(() => {
    shownBox.current = box;
  });
  return (
    <>
      {visible.map(({ id, holdout = false }) => (
        <ShownPiece key={id} id={id} heat={false} column={null} holdout={holdout} />
      ))}
      {handles && <Handles state={state} />}
      <Lighting state={state} box={box} />
      <Surroundings state={state} />
      <Stands state={state} box={box} stands={stands} />
    </>
  );
}

/** Comes last, when everything else of the same moment is in its place. */
function Stands({ state, box, stands }: Omit<Props, "handles"> & { box: THREE.Box3 }) {
  const shown = useShown((s) => s.shown);
  const moment = useSceneMoment(state);
  const { gl, scene, camera } = useThree();
  const domes = useDomes(domesOf(moment.lamps));
  useLayoutEffect(() => {
    stands({
      gl,
      scene,
      camera: camera as THREE.PerspectiveCamera,
      frame: domes ? frameShown(state, shown) : null,
      moment,
      box,
    });
  });
  return null;
}
