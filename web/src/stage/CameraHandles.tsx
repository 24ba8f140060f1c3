import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useParts } from "../common/store/store";
import { PartGrips } from "./PartGrips";

/** What is dragged of the camera that is open in its sheet; nobody sees it from within. */
export function CameraHandles({ state, size }: { state: StudyState; size: number }) {
  const {
    sheet,
    camera: open,
    playing,
    view,
    four,
  } = useParts("sheet", "camera", "playing", "view", "four");
  const catalogue = useCatalogue().data;
  const { cameras = [], camera: chosen } = documentOf(state);
  const camera = cameras.find((c) => c.id === open);
  const entry = catalogue?.cameras.find((d) => d.key === camera?.camera);
  if (sheet !== "camera" || playing || !camera || !entry) return null;
  const own = chosen ?? cameras[0]?.id;
  if (view.name === "camera" && !four && camera.id === own) return null;
  return (
    <PartGrips
      state={state}
      size={size}
      address={`/cameras/${camera.id}`}
      part={camera}
      entry={entry}
    />
  );
}
