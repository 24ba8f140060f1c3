import { Canvas } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useState } from "react";
import { createPortal } from "react-dom";
import * as THREE from "three";
import { create } from "zustand";
import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { Scene } from "./Scene";
import { useRoom } from "./useRoom";
import { drawing } from "./decimation";
import { resolutionAt, useDetail } from "./useDetail";

/** The stage that is open: where on the page its picture stands, and the study that it shows. */
const useStaged = create<{ place: HTMLElement | null; state: StudyState | null }>()(() => ({
  place: null,
  state: null,
}));

/** Have the picture of a study stand in an element of the page, for as long as it is there. */
export function useStageCanvas(place: React.RefObject<HTMLElement | null>, state: StudyState) {
  useLayoutEffect(() => useStaged.setState({ state }), [state]);
  useLayoutEffect(() => {
    useStaged.setState({ place: place.current });
    return () => useStaged.setState({ place: null, state: null });
  }, [place]);
}

/**
 * The picture itself, made when the first study is opened and kept from then on: shaders are
 * compiled once, which takes a processor a second or two, and not for each study that is opened.
 */
export function StageCanvas() {
  const { place, state } = useStaged();
  const [holder] = useState(makeHolder);
  const [needed, setNeeded] = useState(false);
  useEffect(() => {
    if (state) setNeeded(true);
  }, [state]);
  useLayoutEffect(() => {
    if (place) place.prepend(holder);
    else holder.remove();
  }, [place, holder]);
  const room = useRoom();
  useLayoutEffect(() => {
    holder.style.right = `${room}px`;
  }, [holder, room]);
  const playing = useInterface((s) => s.playing);
  const resolution = useDetail((s) =>
    // Where the processor draws, what moves is drawn off screen, as coarsely as it must.
    resolutionAt(
      drawing.inSoftware ? { ...s, moving: false } : s,
      window.devicePixelRatio,
      playing,
    ),
  );
  if (!needed) return null;
  return createPortal(
    <Canvas
      frameloop="demand"
      shadows={{ type: THREE.PCFShadowMap }}
      dpr={resolution}
      gl={{ alpha: true, antialias: false }}
      onCreated={({ gl }) => {
        gl.toneMapping = THREE.NeutralToneMapping;
      }}
      camera={{ fov: 32, near: 0.01, far: 500, position: [1.6, 1, 2.4] }}
      role="group"
      aria-label="3D view of the study; drag to turn, right drag to pan, wheel to zoom"
    >
      {state && <Scene key={state.id} state={state} />}
    </Canvas>,
    holder,
  );
}

function makeHolder(): HTMLElement {
  const holder = document.createElement("div");
  holder.style.position = "absolute";
  holder.style.inset = "0";
  return holder;
}
