import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect } from "react";
import * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import type { Cameras } from "./FlatViews";
import { aimAt, frameWithin } from "./studyCamera";
import { useSceneMoment } from "./useMoment";

interface Props {
  state: StudyState;
  cameras: Cameras;
  /** How far what is shown reaches, metres. */
  reach: number;
}

/** Looks through the study's camera, which may move; turning the view by hand leaves it there. */
export function ThroughCamera({ state, cameras, reach }: Props) {
  const through = useInterface((s) => s.view.name === "camera" && !s.four);
  const camera = useThree((s) => s.camera) as THREE.PerspectiveCamera;
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const { view } = useSceneMoment(state);

  useLayoutEffect(() => {
    if (!through || !controls) {
      cameras.own = null;
      return;
    }
    const share = frameWithin(size, view.aspect).height;
    const across = size.width / size.height;
    cameras.own = view.height === null ? null : (cameras.own ?? new THREE.OrthographicCamera());
    if (cameras.own) aimAt(cameras.own, view, share, across, reach);
    // Where it has no perspective, whoever turns away begins from the same place.
    aimAt(camera, view, share, across, reach);
    controls.target.fromArray(view.target);
    invalidate();
  }, [through, camera, cameras, controls, size, view, reach, invalidate]);

  useEffect(() => {
    if (!through || !controls) return;
    const { fov } = camera;
    const leave = () => {
      // It turns upright, as the free view is.
      camera.up.set(0, 1, 0);
      useInterface.getState().leaveCamera();
    };
    controls.addEventListener("start", leave);
    return () => {
      controls.removeEventListener("start", leave);
      camera.up.set(0, 1, 0);
      camera.fov = Math.min(camera.fov, Math.max(fov, 10));
      camera.updateProjectionMatrix();
    };
  }, [through, controls, camera]);
  return null;
}
