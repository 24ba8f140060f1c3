import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { client, unwrap } from "../api/client";
import type { DocValue } from "../api/document";
import { useInterface } from "../common/store/store";
import { asSeen, placeUnder, withPlace, type ClickedPlace } from "../model/clickedPlaces";
import { HANDLE } from "./Grip";
import type { HandleProps } from "./handleProps";
import { hitOf, placesOf } from "./rayHit";
import { useScreenSize } from "./screenSize";
import { usePointer, type Pointed } from "./usePointer";
import { useRest } from "./useRest";
import { useTool } from "./useTool";
import { useShown } from "./useStageFrames";

const SAYS =
  "Click adds a place, a drag moves one, Shift takes it away. Beside the piece a drag turns the view.";
/** Pixels around a place in which it is meant. */
const NEAR_PX = 11;

/** The number of the place that the pointer holds, below 0 of one that is not placed yet. */
interface Hold {
  number: number;
}

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
  const places = given("clicked") as unknown as ClickedPlace[];
  // Where a step has other ways to places, only one of them is to click.
  const way = given("way") as DocValue | undefined;
  const wanted = way === undefined || way === "clicked";
  const active = useTool("place", SAYS) && wanted;
  const element = useThree((s) => s.gl.domElement);
  const invalidate = useThree((s) => s.invalidate);
  const latest = useRef<ClickedPlace[]>(places);
  const held = useRef<Hold | null>(null);
  const puts = useRef({ running: false, waiting: [] as { hold: Hold; pointed: Pointed }[] });
  useEffect(() => {
    // While something is not stored, what was placed last is newer than what was rendered last.
    if (useInterface.getState().live.length === 0) latest.current = places;
    invalidate();
  }, [places, invalidate]);
  // What is broken at rest keeps its places there; they are seen where the surface has gone.
  const frame = useInterface((s) => s.frame);
  const rest = useRest(props.study, props.piece, props.contentKey, frame);
  const { data } = props.shown;
  const seenAs = (all: ClickedPlace[]) => {
    if (given("cut") !== "rest" || !rest) return all;
    const points = placesOf(data);
    return rest.length === points.length ? asSeen(all, rest, points) : all;
  };
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
    return placeUnder(seenAs(latest.current), pixels(at.x, at.y), onScreen, NEAR_PX);
  };
  const over = ({ ray }: Pointed) =>
    Object.values(useShown.getState().shown).some(
      ({ data, place }) => hitOf(data, place, ray) !== null,
    );
  /** Where a pointer meets a surface, as the server finds it; null where it meets none. */
  const asked = async ({ ray }: Pointed): Promise<ClickedPlace | null> => {
    const { frame, quality, say } = useInterface.getState();
    const [origin, direction] = [ray.origin.toArray(), ray.direction.toArray()];
    try {
      const answer = await client.POST("/api/studies/{study_id}/pieces/{piece_id}/place", {
        params: { path: { study_id: props.study, piece_id: props.piece } },
        body: { step: props.stepId, ray: { by: "ray", origin, direction }, frame, quality },
      });
      return unwrap(answer).place;
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
      return null;
    }
  };
  /** Puts what is held where the pointer is: one after the other, of one that moves the newest. */
  const put = async (hold: Hold, pointed: Pointed): Promise<void> => {
    const { waiting } = puts.current;
    const last = waiting[waiting.length - 1];
    if (last?.hold === hold) last.pointed = pointed;
    else waiting.push({ hold, pointed });
    if (puts.current.running) return;
    puts.current.running = true;
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const place = await asked(next.pointed);
      if (!place) continue;
      const { hold } = next;
      if (hold.number < 0) hold.number = latest.current.length;
      show(withPlace(latest.current, hold.number, place));
    }
    puts.current.running = false;
    if (held.current === null) finish();
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
      held.current = { number };
      if (number < 0) void put(held.current, pointed);
      return true;
    },
    move: (pointed, isHeld) => {
      if (isHeld && held.current) void put(held.current, pointed);
    },
    up: () => {
      held.current = null;
      if (!puts.current.running) finish();
    },
  });
  if (!wanted) return null;
  return (
    <>
      {seenAs(places).map(({ at }, number) => (
        <Dot key={number} at={at} />
      ))}
    </>
  );
}
