import { OrbitControls } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import type { OrbitControls as Controls } from "three-stdlib";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { noteReturning, returning } from "../common/store/returning";
import { useInterface } from "../common/store/store";
import { shownBox } from "../common/shownBox";
import { useColumnHeat } from "../common/useTable";
import { PLACE_ROW } from "../model/rowIds";
import { Detail } from "./Detail";
import { looksThrough, presentEye } from "../common/eye";
import { FlatViews, makeCameras, type Cameras } from "./FlatViews";
import { Handles } from "./Handles";
import { useSceneWhileDragged } from "./liveScene";
import { CameraHandles } from "./CameraHandles";
import { CameraOutlines } from "./CameraOutlines";
import { LightHandles } from "./LightHandles";
import { Lighting } from "./Lighting";
import { Markers } from "./Markers";
import { Picture } from "./Picture";
import { PlaceHandles } from "./PlaceHandles";
import { SeamMarker } from "./SeamMarker";
import { ShownPiece } from "./ShownPiece";
import { Surroundings } from "./Surroundings";
import { ThroughCamera } from "./ThroughCamera";
import { StageNumbers } from "./StageNumbers";
import { boxOf, shownOf, useReach } from "./shownBox";
import { sceneMoment } from "../common/sceneMoment";
import { useShown, useStageFrames, type Shown } from "./useStageFrames";

function Viewpoint({ state, pieces }: { state: StudyState; pieces: string[] }) {
  const asked = useInterface((s) => s.view.count);
  const settled = useRef<Controls | null>(null);
  const camera = useThree((s) => s.camera) as THREE.PerspectiveCamera;
  const controls = useThree((s) => s.controls) as unknown as Controls | null;
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    const { name, fit } = useInterface.getState().view;
    const opened = controls !== null && settled.current !== controls;
    if (!controls || !(opened || fit || name === "perspective")) return;
    settled.current = controls;
    const box = boxOf(shownOf(useShown.getState().shown, pieces));
    const known = !box.isEmpty();
    const middle = known ? box.getCenter(new THREE.Vector3()) : new THREE.Vector3();
    const radius = known ? box.getSize(new THREE.Vector3()).length() / 2 : 1;
    const distance = (radius / Math.sin(((camera.fov / 2) * Math.PI) / 180)) * 1.05;
    if (!fit) {
      const { view } = sceneMoment(state, useInterface.getState().frame);
      // As it was looked at before this window was loaded again.
      const eye = opened && name === "perspective" ? returning(state.id).eye : undefined;
      camera.fov = view.angle;
      camera.position.fromArray(eye?.position ?? view.position);
      controls.target.fromArray(eye?.target ?? view.target);
    } else {
      const away = camera.position.clone().sub(controls.target).normalize();
      controls.target.copy(middle);
      camera.position.copy(middle).addScaledVector(away, distance);
    }
    camera.updateProjectionMatrix();
    controls.update();
    invalidate();
    // The camera starts from the study once, and then belongs to the one who looks.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asked, controls, camera, state.id]);
  useEffect(() => {
    if (!controls) return;
    const away = looksThrough(camera, controls);
    const note = () => noteReturning(state.id, { eye: presentEye() ?? undefined });
    controls.addEventListener("end", note);
    return () => {
      controls.removeEventListener("end", note);
      away();
    };
  }, [controls, camera, state.id]);
  return null;
}

/** Asks for what is to be seen at the moment. */
function Frames({ state }: { state: StudyState }) {
  useStageFrames(state);
  useSceneWhileDragged(state);
  return null;
}

/** Light and views around all that is shown. */
function Around(props: { state: StudyState; pieces: string[]; cameras: Cameras }) {
  const { state, pieces, cameras } = props;
  const shown = useShown((s) => s.shown);
  const box = boxOf(shownOf(shown, pieces));
  useEffect(() => {
    shownBox.current = box;
  });
  return (
    <>
      <Lighting state={state} box={box} />
      <Surroundings state={state} />
      <FlatViews box={box} cameras={cameras} />
    </>
  );
}

/** Figures and handles of a piece, which stand where it does. */
function BesidePiece({ state, id, cameras }: { state: StudyState; id: string; cameras: Cameras }) {
  const place = useShown((s) => (s.shown[id] as Shown | undefined)?.place);
  return place ? <StageNumbers state={state} piece={id} place={place} cameras={cameras} /> : null;
}

/** What stands on the stage, at the moment that is drawn. */
export function Scene({ state }: { state: StudyState }) {
  const document = documentOf(state);
  const active = useInterface((s) => s.piece);
  const heat = useInterface((s) => s.heat);
  const table = useInterface((s) => s.table);
  const traced = useInterface((s) => s.draw === "traced");
  const piece = active ?? document.pieces[0]?.id;
  const column = useColumnHeat(state, piece, table);
  const cameras = useMemo(makeCameras, []);
  const visible = document.pieces.filter((p) => p.visible !== false);
  const ids = visible.map((p) => p.id);
  const reach = useReach(ids);
  // The row that says where the piece stands is open.
  const placing = useInterface((s) => s.step === PLACE_ROW && s.marker === null);
  const placed = placing ? visible.find((p) => p.id === piece) : undefined;
  const isShown = useShown((s) => placed !== undefined && placed.id in s.shown);
  const motion = state.motion.find((m) => m.id === piece);
  return (
    <>
      <Frames state={state} />
      {visible.map(({ id, holdout = false }) => (
        <ShownPiece
          key={id}
          id={id}
          holdout={holdout}
          heat={id === piece && heat}
          column={id === piece ? column : null}
        />
      ))}
      {piece && <BesidePiece state={state} id={piece} cameras={cameras} />}
      {/* Behind the picture of path tracing they would be held without being seen. */}
      {!traced && (
        <>
          <Handles state={state} />
          <LightHandles state={state} size={reach} />
          <CameraHandles state={state} size={reach} />
          <CameraOutlines state={state} size={reach} />
          <Markers state={state} size={reach} />
        </>
      )}
      {placed && isShown && !traced && (
        <PlaceHandles
          state={state}
          address={`/pieces/${placed.id}`}
          title={placed.name}
          place={placed.place ?? {}}
          lanes={motion?.place_lanes ?? []}
          bases={motion?.bases ?? []}
          size={reach}
        />
      )}
      <SeamMarker state={state} />
      <OrbitControls makeDefault enableDamping={false} />
      <Viewpoint state={state} pieces={ids} />
      <ThroughCamera state={state} cameras={cameras} reach={reach} />
      <Detail />
      <Around state={state} pieces={ids} cameras={cameras} />
      <Picture state={state} cameras={cameras} />
    </>
  );
}
