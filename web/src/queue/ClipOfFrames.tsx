import { Box, Button, MenuItem, Select, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";

type Body = Schemas["MadeClipBody"];

const KINDS: [NonNullable<Body["kind"]>, string][] = [
  ["mp4", "MP4, H.264"],
  ["webm", "WebM, VP9"],
  ["av1", "WebM, AV1"],
  ["gif", "GIF"],
  ["webp", "Animated WebP"],
  ["clip-page", "Web page with the clip"],
  ["png", "PNG sequence"],
];
const WAYS: [NonNullable<Body["way"]>, string][] = [
  ["forwards", "forwards"],
  ["backwards", "backwards"],
  ["there and back", "there and back"],
];
const SCALES: [number, string][] = [
  [1, "as large"],
  [0.5, "half as large"],
  [0.25, "a quarter as large"],
];

interface Props {
  queued: Schemas["QueuedTold"];
  /** Whether all frames are there. */
  whole: boolean;
  make: (body: Body) => void;
}

/** Another clip of frames that are there, without drawing them again. */
export function ClipOfFrames({ queued, whole, make }: Props) {
  const [kind, setKind] = useState<NonNullable<Body["kind"]>>("mp4");
  const [way, setWay] = useState<NonNullable<Body["way"]>>("forwards");
  const [scale, setScale] = useState(1);
  const [rate, setRate] = useState("");
  const wanted = rate.trim() ? Number(rate) : null;
  const wrong = wanted !== null && !(wanted >= 0.5 && wanted <= 240);
  const even = (n: number) => Math.max(16, 2 * Math.round((n * scale) / 2));
  if (!whole)
    return (
      <Typography variant="body2" color="textSecondary">
        When all frames are there, clips of other kinds, rates and sizes can be made of them.
      </Typography>
    );
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="body2">Of these frames, another clip:</Typography>
      <Pick label="Clip as" value={kind} options={KINDS} pick={setKind} />
      <Pick label="In which order" value={way} options={WAYS} pick={setWay} />
      <Pick label="How large" value={scale} options={SCALES} pick={setScale} />
      <TextField
        variant="standard"
        value={rate}
        error={wrong}
        onChange={(e) => setRate(e.target.value)}
        placeholder={String(queued.rate)}
        slotProps={{ htmlInput: { "aria-label": "Pictures a second", inputMode: "numeric" } }}
        sx={{ width: 52 }}
      />
      <Typography variant="body2">a second</Typography>
      <Button
        variant="outlined"
        disabled={wrong}
        sx={{ ml: "auto" }}
        onClick={() =>
          make({
            kind,
            way,
            rate: wanted,
            width: even(queued.width),
            height: even(queued.height),
            repeats: 1,
            pixel_format: "yuv420p",
            effort: "good",
          })
        }
      >
        Make the clip
      </Button>
    </Box>
  );
}

function Pick<T extends string | number>(props: {
  label: string;
  value: T;
  options: [T, string][];
  pick: (value: T) => void;
}) {
  return (
    <Select
      value={props.value}
      onChange={(e) => props.pick(e.target.value as T)}
      inputProps={{ "aria-label": props.label }}
    >
      {props.options.map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </Select>
  );
}
