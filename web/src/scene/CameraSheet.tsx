import PhotoCameraOutlined from "@mui/icons-material/PhotoCameraOutlined";
import { Box, Button, MenuItem, Radio, Select, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { documentOf, type Camera } from "../api/document";
import { useCatalogue } from "../api/queries";
import { SideSheet } from "../common/SideSheet";
import { useInterface, useParts } from "../common/store/store";
import { useChange } from "../common/useStep";
import { KEYS, written } from "../find/keys";
import { useKeepView } from "../common/useKeepView";
import { SceneRow } from "./SceneRow";

/** The cameras of the study: which one is its own, and what each sees. */
export function CameraSheet({ state }: { state: StudyState }) {
  const open = useInterface((s) => s.sheet === "camera");
  return open ? (
    <SideSheet title="Cameras">
      <Cameras state={state} />
    </SideSheet>
  ) : null;
}

function Cameras({ state }: { state: StudyState }) {
  const { view, four, camera: open, look, set } = useParts("view", "four", "camera", "look", "set");
  const keepView = useKeepView(state);
  const { cameras = [], camera: chosen } = documentOf(state);
  const own = chosen ?? cameras[0]?.id;
  const through = view.name === "camera" && !four;
  return (
    <>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {through
          ? "You look through the study’s camera. Turning the view leaves it where it is."
          : "Turn the view freely; the camera stays until you keep the view or key it."}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mb: 1, flexWrap: "wrap" }}>
        <Button
          variant="outlined"
          aria-pressed={through}
          onClick={() => look(through ? "perspective" : "camera")}
          sx={{ py: 0.25 }}
        >
          {through ? "Leave it" : "Look through"}
        </Button>
        <Button
          variant="outlined"
          disabled={through}
          onClick={() => void keepView("set")}
          sx={{ py: 0.25 }}
        >
          Keep this view
        </Button>
        <Button
          variant="outlined"
          title={`Sets keys of its place and target at the playhead (${written(KEYS.keyAll.keys)})`}
          onClick={() => void keepView("key")}
          sx={{ py: 0.25 }}
        >
          Key it here
        </Button>
      </Box>
      <Box role="radiogroup" aria-label="The study’s camera">
        {cameras.map((camera) => (
          <CameraRow
            key={camera.id}
            state={state}
            camera={camera}
            open={open === camera.id}
            isOwn={camera.id === own}
            last={cameras.length === 1}
          />
        ))}
      </Box>
      <Button
        variant="outlined"
        onClick={() => void keepView("new")}
        sx={{ py: 0.25, my: 1 }}
        title="Another camera with the present view, and with the lens and format of this one"
      >
        + Add this view
      </Button>
      {cameras.length > 1 && (
        <Typography variant="caption" color="textSecondary" component="p">
          The marked one is the study’s: it is seen through, and pictures are taken with it.
        </Typography>
      )}
      {!open && cameras.length === 1 && (
        <Button onClick={() => set({ camera: own ?? null })} sx={{ px: 0.5 }}>
          Lens, focus, format…
        </Button>
      )}
    </>
  );
}

interface RowProps {
  state: StudyState;
  camera: Camera;
  open: boolean;
  isOwn: boolean;
  last: boolean;
}

function CameraRow({ state, camera, open, isOwn, last }: RowProps) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const change = useChange(state.id, "");
  const entry = catalogue?.cameras.find((d) => d.key === camera.camera);
  if (!catalogue || !entry) return null;
  const choose = () =>
    change.edit(`Look through ${camera.name}`, [{ do: "set", path: "/camera", value: camera.id }]);
  return (
    <SceneRow
      state={state}
      kind="camera"
      part={camera}
      entry={entry}
      open={open}
      toggle={() => set({ camera: open ? null : camera.id })}
      sign={<PhotoCameraOutlined sx={{ fontSize: 17, color: "text.secondary" }} />}
      // The study has one always.
      removed={last || isOwn ? undefined : () => set({ camera: null })}
      end={
        <Radio
          size="small"
          checked={isOwn}
          onChange={choose}
          slotProps={{ input: { "aria-label": `${camera.name} is the study’s camera` } }}
        />
      }
    >
      <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, minHeight: 27 }}>
        <Typography variant="body2" sx={{ alignSelf: "center" }}>
          Kind
        </Typography>
        <Select
          value={camera.camera}
          onChange={(e) => {
            const kind = catalogue.cameras.find((d) => d.key === e.target.value);
            // What both kinds have stays.
            const kept = Object.entries(camera.values ?? {}).filter(
              ([name]) => name in (kind?.values ?? {}),
            );
            const path = `/cameras/${camera.id}`;
            change.edit("Change the camera", [
              { do: "set", path: `${path}/values`, value: {} as never },
              { do: "set", path: `${path}/camera`, value: e.target.value },
              { do: "set", path: `${path}/values`, value: Object.fromEntries(kept) as never },
            ]);
          }}
          inputProps={{ "aria-label": "Kind of camera" }}
          sx={{ justifySelf: "start" }}
        >
          {catalogue.cameras.map((d) => (
            <MenuItem key={d.key} value={d.key}>
              {d.title}
            </MenuItem>
          ))}
        </Select>
      </Box>
    </SceneRow>
  );
}
