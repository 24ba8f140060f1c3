import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { client, unwrap } from "../api/client";
import type { DocValue } from "../api/document";
import { useInterface, useParts } from "../common/store/store";
import { placeUnder, withPlace, type ClickedPlace } from "../model/clickedPlaces";
import { HANDLE } from "./Grip";
import type { HandleProps } from "./handleProps";
import { hitOf } from "./rayHit";
import { useScreenSize } from "./screenSize";
import { usePointer, type Pointed } from "./usePointer";
import { useShown } from "./useStageFrames";

const SAYS =
  "Click adds a place, a drag moves one, Shift takes it away. Beside the piece a drag turns the view.";
/** Pixels around a place in which it is meant. */
const NEAR_PX = 11;

function Dot({ at }: { at: number[] }) {
  const mesh = useRef<THREE.Mesh>(null);
  useScreenSize(mesh, 5.5);
  return (
    <mesh ref={mesh} position={[at[0], at[1], at[2]]} renderOrder={10} raycast={() => null}>
      <sphereGeometry args={[1, 16, 12]} />
      <meshBasicMaterial color={HANDLE} depthTest={false} transparent toneMapped={false} />
    </mesh>
  );
}

/** Places on surfaces that are clicked, dragged and taken away on the stage. */
export function PlacesHandle({ given, change, finish, ...props }: HandleProps) {
  const { tool, set } = useParts("tool", "set");
  const places = given("clicked") as unknown as ClickedPlace[];
  // Where a step has other ways to places, only one of them is to click.
  const way = given("way") as DocValue | undefined;
  const wanted = way === undefined || way === "clicked";
  const active = tool === "place" && wanted;
  const element = useThree((s) => s.gl.domElement);
  const invalidate = useThree((s) => s.invalidate);
  const latest = useRef<ClickedPlace[]>(places);
  const held = useRef<number | null>(null);
  const asks = useRef({ running: false, next: null as Pointed | null });
  useEffect(() => {
    // While something is not stored, what was placed last is newer than what was rendered last.
    if (useInterface.getState().live.length === 0) latest.current = places;
    invalidate();
  }, [places, invalidate]);
  useEffect(() => {
    if (!active) return;
    set({ toolSays: SAYS });
    const end = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      set({ tool: null });
    };
    window.addEventListener("keydown", end, { capture: true });
    return () => {
      window.removeEventListener("keydown", end, { capture: true });
      set({ toolSays: "" });
    };
  }, [active, set]);

  const show = (next: ClickedPlace[]) => {
    latest.current = next;
    change({ clicked: next as unknown as DocValue });
  };
  const under = ({ camera, at }: Pointed) => {
    const stands = new THREE.Matrix4().fromArray(props.shown.place);
    const size = useInterface.getState().four ? 0.5 : 1;
    const pixels = (x: number, y: number): [number, number] => [
      ((x + 1) / 2) * element.clientWidth * size,
      ((1 - y) / 2) * element.clientHeight * size,
    ];
    const onScreen = ([x, y, z]: number[]) => {
      const seen = new THREE.Vector3(x, y, z).applyMatrix4(stands).project(camera);
      return seen.z > 1 ? null : pixels(seen.x, seen.y);
    };
    return placeUnder(latest.current, pixels(at.x, at.y), onScreen, NEAR_PX);
  };
  const over = ({ ray }: Pointed) =>
    Object.values(useShown.getState().shown).some(
      ({ data, place }) => hitOf(data, place, ray) !== null,
    );
  /** Where the pointer meets a surface; of several moves while one is asked for, the newest. */
  const ask = async (pointed: Pointed): Promise<void> => {
    if (asks.current.running) {
      asks.current.next = pointed;
      return;
    }
    asks.current.running = true;
    const { frame, quality, say } = useInterface.getState();
    const { origin, direction } = pointed.ray;
    try {
      const { place } = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/place", {
          params: { path: { study_id: props.study, piece_id: props.piece } },
          body: {
            step: props.stepId,
            ray: { by: "ray", origin: origin.toArray(), direction: direction.toArray() },
            frame,
            quality,
          },
        }),
      );
      if (place && held.current !== null) show(withPlace(latest.current, held.current, place));
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    } finally {
      asks.current.running = false;
    }
    const { next } = asks.current;
    asks.current.next = null;
    if (next) await ask(next);
  };
  usePointer(active, {
    down: (pointed) => {
      const number = under(pointed);
      if (pointed.event.shiftKey) {
        if (number < 0) return false;
        show(latest.current.filter((_, k) => k !== number));
        finish();
        return true;
      }
      if (number < 0 && !over(pointed)) return false;
      held.current = number < 0 ? latest.current.length : number;
      if (number < 0) void ask(pointed);
      return true;
    },
    move: (pointed, isHeld) => {
      if (isHeld && held.current !== null) void ask(pointed);
    },
    up: () => {
      const end = () => {
        if (asks.current.running) {
          window.setTimeout(end, 15);
          return;
        }
        held.current = null;
        finish();
      };
      if (held.current !== null) end();
    },
  });
  if (!wanted) return null;
  return (
    <>
      {places.map(({ at }, number) => (
        <Dot key={number} at={at} />
      ))}
    </>
  );
}
