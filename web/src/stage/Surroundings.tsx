import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { create } from "zustand";
import type { StudyState } from "../api/client";
import { drawing } from "./decimation";
import { BehindGlass } from "./BehindGlass";
import { useDomes } from "./domes";
import { domesOf, hangDomes, isAround, makeSky, skyOf, type Lamp } from "./sky";
import { useSceneMoment } from "./useMoment";

/** What shiny surfaces throw back, and what is seen through glass besides the pieces. */
interface Around {
  /** Light from all sides, filtered for surfaces of every roughness; null where none is needed. */
  texture: THREE.Texture | null;
  /** How many meshes want it. */
  wanted: number;
}

const useAround = create<Around>()(() => ({ texture: null, wanted: 0 }));

/** The surroundings, for as long as a surface needs them. */
export function useReflected(needed: boolean): THREE.Texture | null {
  useEffect(() => {
    if (!needed) return;
    useAround.setState((s) => ({ wanted: s.wanted + 1 }));
    return () => useAround.setState((s) => ({ wanted: s.wanted - 1 }));
  }, [needed]);
  return useAround((s) => (needed ? s.texture : null));
}

/** Pixels of each side of the surroundings; a sky has nothing finer in it. */
const SIZE = { card: 128, software: 32 };

/** Makes the surroundings when they are wanted, and anew when the light of the sky changes. */
export function Surroundings({ state }: { state: StudyState }) {
  const gl = useThree((s) => s.gl);
  const invalidate = useThree((s) => s.invalidate);
  const wanted = useAround((s) => s.wanted > 0);
  const { lamps } = useSceneMoment(state);
  const told = JSON.stringify(lamps.filter(isAround));
  const domes = useDomes(domesOf(lamps));
  const maker = useMemo(() => new THREE.PMREMGenerator(gl), [gl]);
  const sky = useMemo(makeSky, []);
  useEffect(() => {
    if (!wanted || !domes) return;
    const around = JSON.parse(told) as Lamp[];
    hangDomes(sky.scene, around, domes);
    const { above, below, up } = skyOf(around);
    sky.uniforms.above.value.copy(above);
    sky.uniforms.below.value.copy(below);
    sky.uniforms.up.value.copy(up);
    // A sky has nothing fine in it; windows have.
    const fine = sky.scene.children.length > 1 ? 4 : 1;
    const size = (drawing.inSoftware ? SIZE.software : SIZE.card) * fine;
    const made = maker.fromScene(sky.scene, 0, 0.1, 100, { size });
    useAround.setState({ texture: made.texture });
    invalidate();
    return () => {
      useAround.setState({ texture: null });
      made.dispose();
    };
  }, [wanted, told, domes, maker, sky, invalidate]);
  useEffect(
    () => () => {
      maker.dispose();
      sky.ball.geometry.dispose();
      sky.material.dispose();
    },
    [maker, sky],
  );
  return <BehindGlass state={state} wanted={wanted} />;
}
