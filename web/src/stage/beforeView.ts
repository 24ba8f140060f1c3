import type * as THREE from "three";

/** Called before each view of a picture with its camera, by Picture; what depends on the eye is
 * brought up to date in them. */
export const beforeView = new Set<(camera: THREE.Camera) => void>();

/** Called to have every piece shaded quickly, or in full, until it is told otherwise. */
export const shading = new Set<(quick: boolean) => void>();

/** Called to have every piece draw all of its triangles, for a view from elsewhere. */
export const wholeViews = new Set<() => void>();
