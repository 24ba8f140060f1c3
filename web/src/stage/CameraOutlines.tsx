import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useParts } from "../common/store/store";
import { HandleLine } from "./HandleLine";
import { corners } from "./studyCamera";
import { useSceneMoment } from "./useMoment";

const COLOUR = "#cdbcf2";
const QUIET = "#8f86ad";

/** Cameras as the other views see them: what the study's sees, and the ways of all that move. */
export function CameraOutlines({ state, size }: { state: StudyState; size: number }) {
  const {
    view,
    four,
    sheet,
    playing,
    camera: open,
  } = useParts("view", "four", "sheet", "playing", "camera");
  const { view: seen } = useSceneMoment(state);
  const { cameras = [], camera: chosen } = documentOf(state);
  const own = chosen ?? cameras[0]?.id;
  if (playing || sheet !== "camera" || (view.name === "camera" && !four)) return null;
  const [a, b, c, d, e, f, g, h] = corners(seen, size * 0.5);
  const rim = [e, f, g, h, e];
  return (
    <>
      {state.scene.cameras.map((camera) =>
        camera.places.length > 1 ? (
          <HandleLine
            key={camera.id}
            points={camera.places as [number, number, number][]}
            colour={camera.id === (open ?? own) ? COLOUR : QUIET}
            width={camera.id === (open ?? own) ? 2 : 1.2}
          />
        ) : null,
      )}
      <HandleLine points={rim} colour={COLOUR} />
      {[
        [a, e],
        [b, f],
        [c, g],
        [d, h],
      ].map((edge, k) => (
        <HandleLine key={k} points={edge} colour={COLOUR} />
      ))}
      {/* What is up in the picture. */}
      <HandleLine
        points={[
          h.clone().lerp(g, 0.42),
          h.clone().lerp(g, 0.5).add(h.clone().sub(e).multiplyScalar(0.16)),
          h.clone().lerp(g, 0.58),
        ]}
        colour={COLOUR}
      />
    </>
  );
}
