import * as THREE from "three";

/** The box around what is shown on the stage now. */
export const shownBox = { current: new THREE.Box3() };
