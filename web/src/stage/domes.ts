import * as THREE from "three";
import { useEffect } from "react";
import { create } from "zustand";

/** Of the light of a picture all round, as the server has it. */
const COLUMNS = 256;
const ROWS = 128;

/** Pictures all round as light, by their addresses: fetched once. */
const useKept = create<{ textures: Record<string, THREE.DataTexture> }>()(() => ({ textures: {} }));
const coming = new Set<string>();

async function fetchDome(address: string) {
  coming.add(address);
  try {
    const answer = await fetch(address);
    if (!answer.ok) return;
    const numbers = new Uint16Array(await answer.arrayBuffer());
    const texture = new THREE.DataTexture(
      numbers,
      COLUMNS,
      ROWS,
      THREE.RGBAFormat,
      THREE.HalfFloatType,
    );
    texture.magFilter = texture.minFilter = THREE.LinearFilter;
    texture.wrapS = THREE.RepeatWrapping;
    texture.needsUpdate = true;
    useKept.setState(({ textures }) => ({ textures: { ...textures, [address]: texture } }));
  } finally {
    coming.delete(address);
  }
}

/** The light of some pictures; null while one of them is on its way. */
export function useDomes(addresses: string[]): Record<string, THREE.DataTexture> | null {
  const textures = useKept((s) => s.textures);
  const missing = addresses.filter((address) => !textures[address]);
  useEffect(() => {
    for (const address of missing) if (!coming.has(address)) void fetchDome(address);
  });
  return missing.length ? null : textures;
}
