import { Box, Button, Dialog, DialogTitle, ListSubheader, MenuItem, Select } from "@mui/material";
import { useState } from "react";
import { client, unwrap, type JobState, type StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { sendClip, useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { presentEye } from "../common/eye";
import { sceneMoment } from "../common/sceneMoment";
import { EncodeOptions, type EncodeChoice } from "./EncodeOptions";
import { Help, Row } from "./formRows";
import { geometryBody, GeometryOptions, type GeometryChoice } from "./GeometryOptions";
import { JobProgress } from "./JobProgress";
import { bytesWords, isRunning } from "../model/jobWords";
import { GROUPS, isGeometry, isPicture, wordsOf, type Kind } from "./kinds";
import { packed } from "./packed";
import { bodyOf, finalBodyOf, masksOf, type PictureChoice } from "./pictureOptions";
import { PictureOptions } from "./PictureOptions";
import { drawFor, show, useJobs } from "../common/useJob";

const REMEMBERED: { kind: Kind } = { kind: "mp4" };

/** Take the study away as a file; what is in it is read back before it is saved. */
export function DeliverDialog({ state }: { state: StudyState }) {
  const open = useInterface((s) => s.dialog === "deliver");
  const { set } = useInterface.getState();
  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ typography: "h2", pb: 1 }}>Deliver {documentOf(state).name}</DialogTitle>
      <Choices key={state.id} state={state} />
    </Dialog>
  );
}

/** What is chosen of the loop at first: all of it. */
function useChoices(state: StudyState) {
  const { frames } = loopOf(documentOf(state));
  const { cameras = [], camera } = documentOf(state);
  const [pictures, setPictures] = useState<PictureChoice>({
    camera: camera ?? cameras[0]?.id ?? "",
    long: 1280,
    first: "0",
    last: String(frames - 1),
    step: "1",
    rate: "",
    repeats: "1",
    samples: 4,
    blur: false,
    quality: "final",
    transparent: false,
    pixelFormat: "yuv420p",
    effort: "good",
    count: "12",
    times: 1,
    handles: false,
    drawn: "stage",
    paths: 64,
    bounces: "8",
    noiseRemoval: true,
    layers: [],
  });
  const [geometry, setGeometry] = useState<GeometryChoice>({
    quality: "draft",
    tolerance: "0.1",
    numbers: "plain",
    copiesAs: "nodes",
    normals: false,
    colours: true,
    first: "0",
    last: String(frames - 1),
  });
  const [encode, setEncode] = useState<EncodeChoice>({
    files: [],
    kind: "mp4",
    rate: "",
    effort: "good",
  });
  return { pictures, setPictures, geometry, setGeometry, encode, setEncode };
}

/** Width to height of what is seen: of the camera's picture, or of the stage. */
function aspectOf(state: StudyState, camera: string, frame: number): number {
  if (camera) {
    // Each camera has a format of its own; the study's is known at each frame.
    const { cameras = [], camera: chosen } = documentOf(state);
    if (camera === (chosen ?? cameras[0]?.id)) return sceneMoment(state, frame).view.aspect;
    return state.scene.cameras.find((c) => c.id === camera)?.aspect ?? 16 / 9;
  }
  const place = document.querySelector("[data-testid=stage] canvas")?.getBoundingClientRect();
  return place && place.height > 0 ? place.width / place.height : 16 / 9;
}

function Choices({ state }: { state: StudyState }) {
  const { set, say } = useInterface.getState();
  const { frame, piece, step } = useInterface.getState();
  const catalogue = useCatalogue().data;
  const document = documentOf(state);
  const { rate } = loopOf(document);
  const [kind, setKind] = useState<Kind>(REMEMBERED.kind);
  const own = useChoices(state);
  const shown = useJobs((s) => (s.study === state.id ? s.shown : null));
  const running = isRunning(shown);
  const copying = catalogue?.steps.filter((entry) => entry.makes_copies).map((entry) => entry.key);
  const hasCopies = document.pieces.some((p) => p.recipe.some((s) => copying?.includes(s.step)));
  const aspect = aspectOf(state, own.pictures.camera, frame);

  const begin = async (): Promise<JobState | null> => {
    if (isPicture(kind)) {
      const around = {
        study: state.id,
        aspect,
        frame,
        eye: presentEye(),
        masks: masksOf(document.pieces),
        row: piece && step ? `/pieces/${piece}/recipe/${step}` : "",
      };
      if (own.pictures.drawn === "traced" || kind === "exr") {
        const wanted = finalBodyOf(kind, own.pictures, around);
        return unwrap(await client.POST("/api/finals", { body: wanted }));
      }
      const body = bodyOf(kind, own.pictures, around);
      const job = unwrap(await client.POST("/api/pictures", { body }));
      drawFor(job);
      return job;
    }
    if (isGeometry(kind)) {
      const body = geometryBody(state.id, kind, own.geometry);
      return unwrap(await client.POST("/api/deliveries", { body }));
    }
    const { files, rate: wanted, ...rest } = own.encode;
    if (!files.length) throw new Error("Drop or choose the pictures first.");
    return sendClip(await packed(files), {
      ...rest,
      rate: wanted.trim() ? Number(wanted) : null,
    });
  };
  const start = () =>
    begin().then(
      (job) => show(job, state.id),
      (error: Error) => say({ text: error.message, tone: "error" }),
    );
  const cancel = () =>
    shown && client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: shown.id } } });

  return (
    <Box sx={{ px: 3, pb: 2.5, overflowY: "auto" }}>
      <Row label="As">
        <Select
          value={kind}
          onChange={(e) => {
            REMEMBERED.kind = e.target.value as Kind;
            setKind(REMEMBERED.kind);
            if (!running) show(null, state.id);
          }}
          inputProps={{ "aria-label": "Deliver as" }}
        >
          {GROUPS.flatMap(({ head, kinds }) => [
            <ListSubheader key={head}>{head}</ListSubheader>,
            ...Object.entries(kinds).map(([key, { label }]) => (
              <MenuItem key={key} value={key}>
                {label}
              </MenuItem>
            )),
          ])}
        </Select>
      </Row>
      <Help>{wordsOf(kind).help}</Help>
      {isPicture(kind) && (
        <PictureOptions
          state={state}
          kind={kind}
          chosen={own.pictures}
          choose={(change) => own.setPictures((now) => ({ ...now, ...change }))}
          aspect={aspect}
          rate={rate}
        />
      )}
      {isGeometry(kind) && (
        <GeometryOptions
          kind={kind}
          chosen={own.geometry}
          choose={(change) => own.setGeometry((now) => ({ ...now, ...change }))}
          hasCopies={hasCopies}
        />
      )}
      {kind === "encode" && (
        <EncodeOptions
          chosen={own.encode}
          choose={(change) => own.setEncode((now) => ({ ...now, ...change }))}
        />
      )}
      <JobProgress job={shown} pictures={isPicture(kind)} />
      <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1, mt: 2 }}>
        <Button onClick={() => set({ dialog: null })}>{running ? "Go on aside" : "Close"}</Button>
        {running && (
          <Button variant="outlined" onClick={() => void cancel()}>
            Cancel
          </Button>
        )}
        {kind === "json" || kind === "bundle" ? (
          <Button
            variant="contained"
            href={`/api/studies/${state.id}/${kind === "json" ? "document" : "bundle"}`}
            download
          >
            Save
          </Button>
        ) : shown?.state === "done" ? (
          <>
            <Button onClick={() => show(null, state.id)}>Make another</Button>
            {shown.filename && (
              <Button variant="contained" href={`/api/jobs/${shown.id}/file`} download>
                Save {bytesWords(shown.size)}
              </Button>
            )}
          </>
        ) : (
          <Button variant="contained" disabled={running} onClick={() => void start()}>
            Make it
          </Button>
        )}
      </Box>
    </Box>
  );
}
