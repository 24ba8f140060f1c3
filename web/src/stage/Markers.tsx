import { Html } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef, useState, type CSSProperties } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { loopOf, type DocValue, type Marker, documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { laneValue } from "../model/lanes";
import { matrixAt } from "./matrixAt";
import { turnedBy } from "./gripPlaces";
import { HandleLine } from "./HandleLine";
import { PlaceHandles } from "./PlaceHandles";
import { useScreenSize } from "./screenSize";

const AXES = [
  { colour: "#e58a78", to: [1, 0, 0] as const },
  { colour: "#93c47d", to: [0, 1, 0] as const },
  { colour: "#86a9e6", to: [0, 0, 1] as const },
];
const NAME: CSSProperties = {
  position: "absolute",
  left: 14,
  top: 6,
  whiteSpace: "nowrap",
  fontSize: 11.5,
  color: "#f4ecdd",
  background: "#14112099",
  borderRadius: 4,
  padding: "1px 6px",
};

/** How large its rings are against all that is on the stage. */
const SHARE = 0.3;

type Motion = StudyState["markers"][number];

/** Where a marker stands now: as it is stored, or as it is being dragged. */
function placeNow(state: StudyState, marker: Marker, motion: Motion, frame: number) {
  const { frames } = loopOf(documentOf(state));
  const { live } = useInterface.getState();
  const own = live.filter((o) => o.do === "set" && o.path.startsWith(`/markers/${marker.id}/`));
  const matrix = new THREE.Matrix4();
  if (own.length === 0)
    return matrix.fromArray(matrixAt(motion.places, frame, frames) ?? matrix.toArray());
  const triple = (name: string) => {
    const set = own.find((o) => o.path.endsWith(`/place/${name}`));
    const value = set && "value" in set ? set.value : (marker.place?.[name] ?? [0, 0, 0]);
    return (value as DocValue[]).map((v, k) => {
      const lane = motion.lanes.find((l) => l.path === `place/${name}/${k}`);
      return typeof v === "number" ? v : (laneValue(lane, frame, frames) ?? 0);
    }) as [number, number, number];
  };
  matrix.makeRotationFromQuaternion(turnedBy(triple("turn"))).setPosition(...triple("move"));
  const base = matrixAt(motion.bases, frame, frames);
  return base ? matrix.premultiply(new THREE.Matrix4().fromArray(base)) : matrix;
}

/** Every marker as three short axes; the chosen one with what it is dragged and turned by. */
export function Markers({ state, size }: { state: StudyState; size: number }) {
  const chosen = useInterface((s) => s.marker);
  // A picture that plays is to be judged, not worked on.
  const playing = useInterface((s) => s.playing);
  const markers = documentOf(state).markers ?? [];
  return markers.map((marker) => {
    const motion = state.markers.find((m) => m.id === marker.id);
    if (!motion || playing) return null;
    return (
      <group key={marker.id}>
        <Cross state={state} marker={marker} motion={motion} chosen={marker.id === chosen} />
        {marker.id === chosen && (
          <PlaceHandles
            state={state}
            address={`/markers/${marker.id}`}
            title={marker.name}
            place={marker.place ?? {}}
            lanes={motion.lanes}
            bases={motion.bases}
            size={size * SHARE}
          />
        )}
      </group>
    );
  });
}

interface CrossProps {
  state: StudyState;
  marker: Marker;
  motion: Motion;
  chosen: boolean;
}

function Cross({ state, marker, motion, chosen }: CrossProps) {
  const frame = useInterface((s) => s.frame);
  const live = useInterface((s) => s.live);
  const set = useInterface((s) => s.set);
  const sized = useRef<THREE.Group>(null);
  const invalidate = useThree((s) => s.invalidate);
  const [over, setOver] = useState(false);
  useScreenSize(sized, chosen ? 30 : 20);
  useEffect(invalidate, [frame, live, motion, chosen, invalidate]);
  return (
    <group
      matrixAutoUpdate={false}
      ref={(group) => {
        if (!group) return;
        group.matrix.copy(placeNow(state, marker, motion, frame));
        group.matrixWorldNeedsUpdate = true;
      }}
    >
      <group ref={sized}>
        {AXES.map(({ colour, to }) => (
          <HandleLine
            key={colour}
            points={[to.map((v) => -0.35 * v) as [number, number, number], [...to]]}
            colour={colour}
            width={chosen || over ? 3 : 2}
            opacity={chosen || over ? 1 : 0.85}
            renderOrder={8}
          />
        ))}
        <mesh
          onClick={(event) => {
            event.stopPropagation();
            set({ marker: marker.id });
          }}
          onPointerOver={() => setOver(true)}
          onPointerOut={() => setOver(false)}
        >
          <sphereGeometry args={[0.7, 12, 8]} />
          <meshBasicMaterial transparent opacity={0} depthWrite={false} />
        </mesh>
      </group>
      {(over || chosen) && (
        <Html style={{ pointerEvents: "none" }} zIndexRange={[4, 3]}>
          <div style={NAME} data-testid="marker-name">
            {marker.name}
          </div>
        </Html>
      )}
    </group>
  );
}
