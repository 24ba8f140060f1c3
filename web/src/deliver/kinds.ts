import type { Schemas } from "../api/client";

export type PictureKind = Schemas["PictureBody"]["kind"];
export type GeometryKind = Schemas["DeliverBody"]["kind"];
export type Kind = PictureKind | GeometryKind | "json" | "bundle" | "encode";

interface KindWords {
  label: string;
  help: string;
}

/** Pictures that are drawn, in the order in which they are offered. */
export const PICTURES: Record<PictureKind, KindWords> = {
  mp4: { label: "Clip, MP4", help: "H.264, which plays nearly everywhere." },
  webm: { label: "Clip, WebM (VP9)", help: "For the web; the backdrop may be left out." },
  av1: { label: "Clip, WebM (AV1)", help: "The smallest file, for newer players." },
  gif: { label: "GIF", help: "Plays on and on wherever a picture may stand; 256 colours." },
  webp: { label: "Animated WebP", help: "As a GIF, with all colours, and smaller." },
  "clip-page": {
    label: "Web page with the clip",
    help: "One HTML file that plays the loop in any browser, to send to somebody.",
  },
  png: { label: "PNG sequence", help: "One file for each picture, in a ZIP; straight alpha." },
  exr: {
    label: "EXR sequence",
    help: "Light as numbers, before bloom and tone, with layers; by path tracing.",
  },
  still: { label: "Still", help: "The frame at the playhead as PNG, up to four times as large." },
  sheet: {
    label: "Sheet of frames",
    help: "Frames spread over the loop, side by side in one PNG.",
  },
  seam: {
    label: "Seam in pictures",
    help: "Frame 0 and the frame after the last, compared as the camera sees them.",
  },
};
export const GEOMETRY: Record<GeometryKind, KindWords> = {
  glb: {
    label: "GLB with animation",
    help: "One file that plays: shapes and their weights over time.",
  },
  usd: {
    label: "USD with time samples",
    help: "One stage with every frame exactly; faces may change on the way.",
  },
  "model-page": {
    label: "Web page with the model",
    help: "One HTML file that plays the loop and can be turned, in any browser.",
  },
  obj: { label: "OBJ sequence", help: "One text file for each frame, in a ZIP." },
  ply: { label: "PLY sequence", help: "One binary file for each frame, in a ZIP." },
  cache: {
    label: "Simulation cache",
    help: "Steps all that remembers through the loop, and keeps it here: nothing waits for it again.",
  },
  stl: { label: "STL sequence", help: "Triangles only, one file for each frame, in a ZIP." },
};
const OTHERS: Record<"bundle" | "json" | "encode", KindWords> = {
  bundle: {
    label: "The study with all it uses",
    help: "One ZIP with its document, meshes, sounds, pictures and presets. Drop it on the gallery to bring it in.",
  },
  json: {
    label: "The document alone",
    help: "The study as JSON, without the files that it uses.",
  },
  encode: {
    label: "A clip from pictures that are there",
    help: "PNG files, a ZIP of them, or a clip, at another rate or as another kind.",
  },
};
export const GROUPS: { head: string; kinds: Partial<Record<Kind, KindWords>> }[] = [
  { head: "Pictures", kinds: PICTURES },
  { head: "Meshes", kinds: GEOMETRY },
  { head: "Besides", kinds: OTHERS },
];

export function wordsOf(kind: Kind): KindWords {
  const all: Record<Kind, KindWords> = { ...PICTURES, ...GEOMETRY, ...OTHERS };
  return all[kind];
}

export function isPicture(kind: Kind): kind is PictureKind {
  return kind in PICTURES;
}

export function isGeometry(kind: Kind): kind is GeometryKind {
  return kind in GEOMETRY;
}
