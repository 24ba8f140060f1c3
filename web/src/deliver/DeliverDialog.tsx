import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogTitle,
  FormControlLabel,
  LinearProgress,
  MenuItem,
  Select,
  TextField,
  Typography,
} from "@mui/material";
import { useEffect, useState, type ReactNode } from "react";
import { client, unwrap, type JobState, type StudyState } from "../api/client";
import { loopOf, documentOf } from "../api/document";
import { listen } from "../api/events";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";

const KINDS = {
  glb: {
    label: "GLB with animation",
    help: "One file that plays: shapes and their weights over time.",
  },
  usd: {
    label: "USD with time samples",
    help: "One stage with every frame exactly; faces may change on the way.",
  },
  obj: { label: "OBJ sequence", help: "One text file for each frame, in a ZIP." },
  ply: { label: "PLY sequence", help: "One binary file for each frame, in a ZIP." },
  stl: { label: "STL sequence", help: "Triangles only, one file for each frame, in a ZIP." },
  json: { label: "The study itself", help: "Its document as JSON, to keep or to open elsewhere." },
} as const;
type Kind = keyof typeof KINDS;
/** How the points of a GLB are stored. */
const NUMBERS = {
  plain: { label: "Plain", help: "32-bit floats: every reader of glTF takes them." },
  compact: {
    label: "Compact",
    help: "About half as large, for readers that know KHR_mesh_quantization.",
  },
} as const;
/** How a GLB has copies. */
const COPIES = {
  nodes: { label: "A node for each", help: "Copies may move; every reader of glTF takes them." },
  instances: {
    label: "Instances in one node",
    help: "Much smaller, for copies that stand still and readers that know EXT_mesh_gpu_instancing.",
  },
} as const;
/** One file of the whole loop. */
const WHOLE: Kind[] = ["glb", "usd"];

function bytes(n: number) {
  return n > 1e6 ? `${(n / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1e3))} kB`;
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "110px 1fr", alignItems: "center", mb: 1 }}>
      <Typography variant="body2">{label}</Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>{children}</Box>
    </Box>
  );
}

/** Take the study away as a file; its size and error are shown before it is saved. */
export function DeliverDialog({ state }: { state: StudyState }) {
  const open = useInterface((s) => s.dialog === "deliver");
  const { set, say } = useInterface.getState();
  const { frames } = loopOf(documentOf(state));
  const steps = useCatalogue().data?.steps.filter((entry) => entry.makes_copies);
  const hasCopies = documentOf(state).pieces.some((piece) =>
    piece.recipe.some((step) => steps?.some((entry) => entry.key === step.step)),
  );
  const [kind, setKind] = useState<Kind>("glb");
  const [quality, setQuality] = useState<"draft" | "final">("draft");
  const [tolerance, setTolerance] = useState("0.1");
  const [numbers, setNumbers] = useState<keyof typeof NUMBERS>("plain");
  const [copiesAs, setCopiesAs] = useState<keyof typeof COPIES>("nodes");
  const [normals, setNormals] = useState(false);
  const [colours, setColours] = useState(true);
  const [first, setFirst] = useState("0");
  const [last, setLast] = useState(String(frames - 1));
  const [job, setJob] = useState<JobState | null>(null);

  useEffect(
    () =>
      listen((event) => {
        if (event.kind !== "job") return;
        const heard = event.data as unknown as JobState;
        setJob((now) => (now?.id === heard.id ? heard : now));
      }),
    [],
  );
  useEffect(() => {
    if (!job || !["waiting", "running"].includes(job.state)) return;
    const timer = window.setInterval(() => {
      void client
        .GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })
        .then((answer) => answer.data && setJob(answer.data));
    }, 700);
    return () => window.clearInterval(timer);
  }, [job]);

  const start = async () => {
    try {
      const range: [number, number] = [Number(first), Number(last)];
      const made = unwrap(
        await client.POST("/api/deliveries", {
          body: {
            study: state.id,
            kind: kind as Exclude<Kind, "json">,
            quality,
            frames: WHOLE.includes(kind) ? null : range,
            tolerance: kind === "glb" ? Number(tolerance) / 100 : null,
            numbers,
            copies_as: copiesAs,
            normals,
            colours,
          },
        }),
      );
      setJob(made);
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  const cancel = () =>
    job && client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job.id } } });
  const running = job?.state === "running" || job?.state === "waiting";

  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ typography: "h2" }}>Deliver {documentOf(state).name}</DialogTitle>
      <Box sx={{ px: 3, pb: 3 }}>
        <Row label="As">
          <Select
            value={kind}
            onChange={(e) => {
              setKind(e.target.value as Kind);
              setJob(null);
            }}
            inputProps={{ "aria-label": "Deliver as" }}
          >
            {(Object.keys(KINDS) as Kind[]).map((k) => (
              <MenuItem key={k} value={k}>
                {KINDS[k].label}
              </MenuItem>
            ))}
          </Select>
        </Row>
        <Typography variant="body2" color="textSecondary" sx={{ ml: "110px", mb: 1.5 }}>
          {KINDS[kind].help}
        </Typography>
        {kind !== "json" && (
          <Row label="Quality">
            <Select
              value={quality}
              onChange={(e) => setQuality(e.target.value as "draft")}
              inputProps={{ "aria-label": "Quality" }}
            >
              <MenuItem value="draft">Draft, as on the stage</MenuItem>
              <MenuItem value="final">Final</MenuItem>
            </Select>
          </Row>
        )}
        {kind === "glb" && (
          <Row label="Largest error">
            <TextField
              variant="standard"
              value={tolerance}
              onChange={(e) => setTolerance(e.target.value)}
              slotProps={{ htmlInput: { "aria-label": "Largest error, % of the size" } }}
              sx={{ width: 60 }}
            />
            <Typography variant="body2">% of the piece’s size</Typography>
          </Row>
        )}
        {kind === "glb" && (
          <Row label="Numbers">
            <Select
              value={numbers}
              onChange={(e) => setNumbers(e.target.value as "plain")}
              inputProps={{ "aria-label": "Numbers" }}
            >
              {Object.entries(NUMBERS).map(([key, { label }]) => (
                <MenuItem key={key} value={key}>
                  {label}
                </MenuItem>
              ))}
            </Select>
          </Row>
        )}
        {kind === "glb" && (
          <Typography variant="body2" color="textSecondary" sx={{ ml: "110px", mb: 1.5 }}>
            {NUMBERS[numbers].help}
          </Typography>
        )}
        {kind === "glb" && hasCopies && (
          <Row label="Copies">
            <Select
              value={copiesAs}
              onChange={(e) => setCopiesAs(e.target.value as "nodes")}
              inputProps={{ "aria-label": "Copies" }}
            >
              {Object.entries(COPIES).map(([key, { label }]) => (
                <MenuItem key={key} value={key}>
                  {label}
                </MenuItem>
              ))}
            </Select>
          </Row>
        )}
        {kind === "glb" && hasCopies && (
          <Typography variant="body2" color="textSecondary" sx={{ ml: "110px", mb: 1.5 }}>
            {COPIES[copiesAs].help}
          </Typography>
        )}
        {kind === "usd" && (
          <Row label="With">
            <FormControlLabel
              control={
                <Checkbox checked={colours} onChange={(e) => setColours(e.target.checked)} />
              }
              label="colours"
            />
            <FormControlLabel
              control={
                <Checkbox checked={normals} onChange={(e) => setNormals(e.target.checked)} />
              }
              label="normals"
            />
          </Row>
        )}
        {kind === "usd" && (
          <Typography variant="body2" color="textSecondary" sx={{ ml: "110px", mb: 1.5 }}>
            Where they move, each is as large as the positions. Without normals a reader finds its
            own, or draws flat faces.
          </Typography>
        )}
        {!WHOLE.includes(kind) && kind !== "json" && (
          <Row label="Frames">
            {[
              [first, setFirst, "First frame"] as const,
              [last, setLast, "Last frame"] as const,
            ].map(([value, put, label]) => (
              <TextField
                key={label}
                variant="standard"
                value={value}
                onChange={(e) => put(e.target.value)}
                slotProps={{ htmlInput: { "aria-label": label, inputMode: "numeric" } }}
                sx={{ width: 60 }}
              />
            ))}
          </Row>
        )}
        <Progress job={job} />
        <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1, mt: 2 }}>
          <Button onClick={() => set({ dialog: null })}>Close</Button>
          {running && (
            <Button variant="outlined" onClick={() => void cancel()}>
              Cancel
            </Button>
          )}
          {kind === "json" ? (
            <Button variant="contained" href={`/api/studies/${state.id}/document`} download>
              Save
            </Button>
          ) : job?.state === "done" ? (
            <Button variant="contained" href={`/api/jobs/${job.id}/file`} download>
              Save {bytes(job.size)}
            </Button>
          ) : (
            <Button variant="contained" disabled={running} onClick={() => void start()}>
              Make it
            </Button>
          )}
        </Box>
      </Box>
    </Dialog>
  );
}

/** What a piece has become in the file, in words. */
function madeOf(detail: JobState["details"][number]): string {
  const [copies, shapes] = [Number(detail.copies), Number(detail.shapes)];
  if (detail.meshes) return `${String(detail.meshes)} meshes, switched from frame to frame`;
  const words = [
    copies ? `${copies.toLocaleString("en")} copies` : "",
    shapes ? `${shapes} shapes by ${String(detail.method)}` : copies ? "" : "stands still",
  ];
  return words.filter(Boolean).join(", ");
}

function Progress({ job }: { job: JobState | null }) {
  if (!job) return null;
  if (job.state === "failed") {
    return (
      <Typography role="alert" color="error" sx={{ mt: 1 }}>
        {job.message} {job.hint}
      </Typography>
    );
  }
  if (job.state === "cancelled") {
    return (
      <Typography color="textSecondary" sx={{ mt: 1 }}>
        Cancelled. Nothing was written.
      </Typography>
    );
  }
  if (job.state === "done") {
    return (
      <Box role="status" sx={{ mt: 1, p: 1.5, bgcolor: "roles.quiet", borderRadius: 2 }}>
        <Typography sx={{ fontWeight: 600 }}>
          {job.filename}, {bytes(job.size)}, read back and ready
        </Typography>
        {job.details.map((d, k) => (
          <Typography key={k} variant="body2" color="textSecondary">
            {String(d.name)}: {madeOf(d)}, error {(Number(d.error_m) * 1000).toFixed(3)} mm (
            {(Number(d.error_relative) * 100).toFixed(3)} % of its size)
          </Typography>
        ))}
      </Box>
    );
  }
  const left = job.seconds_left == null ? "" : `, ${Math.ceil(job.seconds_left)} s left`;
  return (
    <Box role="status" sx={{ mt: 1 }}>
      <LinearProgress variant="determinate" value={job.share * 100} aria-label="Progress" />
      <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
        {Math.round(job.share * 100)} % {job.what}
        {left}
      </Typography>
    </Box>
  );
}
