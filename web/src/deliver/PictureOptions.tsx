import { Checkbox, FormControlLabel, MenuItem, Select, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { documentOf, loopOf } from "../api/document";
import { sceneMoment } from "../common/sceneMoment";
import { Choose, Figure, Row } from "./formRows";
import type { PictureKind } from "./kinds";
import {
  LAYERS,
  LONG_SIDES,
  PATHS,
  PIXEL_FORMATS,
  PIXEL_WORDS,
  SAMPLES,
  sizeFor,
  trailWords,
  usedBy,
  type Effort,
  type LayerName,
  type PictureChoice,
} from "./pictureOptions";

interface Props {
  state: StudyState;
  kind: PictureKind;
  chosen: PictureChoice;
  choose: (change: Partial<PictureChoice>) => void;
  /** Width to height of what is seen. */
  aspect: number;
  /** Frames a second of the loop. */
  rate: number;
}

const EFFORTS: [Effort, string][] = [
  ["small", "small file"],
  ["good", "good"],
  ["best", "best, large file"],
];

const DRAWN: [PictureChoice["drawn"], string][] = [
  ["stage", "As the stage draws it, quickly"],
  ["traced", "By path tracing, as light goes"],
];

const numbered = (words: Record<number, string>) =>
  Object.entries(words).map(([n, label]): [number, string] => [Number(n), label]);

/** What is chosen for pictures: what is seen, how large, which frames, how finely. */
export function PictureOptions({ state, kind, chosen, choose, aspect, rate }: Props) {
  const used = usedBy(kind);
  const { cameras = [] } = documentOf(state);
  const times = used.times ? chosen.times : 1;
  const size = sizeFor(chosen.long, aspect);
  const traced = chosen.drawn === "traced" || kind === "exr";
  const { finish } = sceneMoment(state, 0);
  const trails = trailWords(kind, chosen, loopOf(documentOf(state)), finish?.trails ?? 0);
  const check = (name: "blur" | "transparent" | "handles" | "noiseRemoval", label: string) => (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={chosen[name]}
          onChange={(e) => choose({ [name]: e.target.checked })}
        />
      }
      label={<Typography variant="body2">{label}</Typography>}
    />
  );
  return (
    <>
      <Row label="Drawn">
        <Choose
          label="Drawn"
          value={traced ? "traced" : "stage"}
          options={kind === "exr" ? DRAWN.slice(1) : DRAWN}
          pick={(drawn) => choose({ drawn })}
        />
        <Typography variant="body2" color="textSecondary">
          {traced ? "in the queue, also while no window is open" : "by this window"}
        </Typography>
      </Row>
      <Row label="Seen by">
        <Choose
          label="Seen by"
          value={chosen.camera}
          options={[
            ...cameras.map((c): [string, string] => [c.id, c.name]),
            ["", "the present view"],
          ]}
          pick={(camera) => choose({ camera })}
        />
        {!traced && check("handles", "with the open row’s handles")}
      </Row>
      <Row label="Size">
        <Choose
          label="Longer side"
          value={chosen.long}
          options={LONG_SIDES.map((n): [number, string] => [n, `${n} pixels`])}
          pick={(long) => choose({ long })}
        />
        {used.times && (
          <Choose
            label="How many times as large"
            value={chosen.times}
            options={[
              [1, "as large"],
              [2, "× 2"],
              [4, "× 4"],
            ]}
            pick={(n) => choose({ times: n })}
          />
        )}
        <Typography variant="body2" color="textSecondary" data-testid="picture-size">
          {size.width * times} × {size.height * times}
        </Typography>
      </Row>
      {used.frames && (
        <Row label="Frames">
          <Figure label="First frame" value={chosen.first} put={(first) => choose({ first })} />
          <Typography variant="body2">to</Typography>
          <Figure label="Last frame" value={chosen.last} put={(last) => choose({ last })} />
          {used.step && (
            <>
              <Typography variant="body2">every</Typography>
              <Figure label="Step" value={chosen.step} put={(step) => choose({ step })} />
            </>
          )}
          {used.count && (
            <>
              <Typography variant="body2">of these</Typography>
              <Figure
                label="How many frames"
                value={chosen.count}
                put={(n) => choose({ count: n })}
              />
            </>
          )}
        </Row>
      )}
      {used.rate && (
        <Row label="Rate">
          <Figure
            label="Pictures a second"
            value={chosen.rate}
            put={(text) => choose({ rate: text })}
            placeholder={String(rate)}
          />
          <Typography variant="body2">pictures a second; the seconds stay</Typography>
        </Row>
      )}
      {used.repeats && (
        <Row label="Whole loops">
          <Figure label="How often" value={chosen.repeats} put={(n) => choose({ repeats: n })} />
          <Typography variant="body2">times, one after the other</Typography>
        </Row>
      )}
      <Row label="Samples">
        {traced ? (
          <Choose
            label="Paths of light for each pixel"
            value={chosen.paths}
            options={numbered(PATHS)}
            pick={(paths) => choose({ paths })}
          />
        ) : (
          <Choose
            label="Samples"
            value={chosen.samples}
            options={numbered(SAMPLES)}
            pick={(samples) => choose({ samples })}
          />
        )}
        {used.blur && check("blur", "motion blur")}
        {used.transparent && check("transparent", "without backdrop")}
      </Row>
      {traced && (
        <Row label="Light">
          <Figure label="Bounces" value={chosen.bounces} put={(bounces) => choose({ bounces })} />
          <Typography variant="body2" sx={{ mr: 1.5 }}>
            bounces at most
          </Typography>
          {check("noiseRemoval", "noise removal")}
        </Row>
      )}
      {traced && trails && (
        <Row label="Trails">
          <Typography variant="body2" color="textSecondary">
            {trails}
          </Typography>
        </Row>
      )}
      {traced && used.layers && (
        <Row label="Layers">
          <Select
            multiple
            displayEmpty
            value={chosen.layers}
            onChange={(e) => choose({ layers: e.target.value as LayerName[] })}
            renderValue={(names) => names.map((name) => LAYERS[name]).join(", ") || "none besides"}
            inputProps={{ "aria-label": "Layers" }}
            sx={{ maxWidth: 380 }}
          >
            {Object.entries(LAYERS).map(([name, label]) => (
              <MenuItem key={name} value={name} dense>
                <Checkbox
                  size="small"
                  checked={chosen.layers.includes(name as LayerName)}
                  sx={{ py: 0 }}
                />
                {label}
              </MenuItem>
            ))}
          </Select>
        </Row>
      )}
      <Row label="Quality">
        <Choose
          label="Quality"
          value={chosen.quality}
          options={[
            ["final", "Final"],
            ["draft", "Draft"],
          ]}
          pick={(quality) => choose({ quality })}
        />
        {used.effort && (
          <Choose
            label="File"
            value={chosen.effort}
            options={EFFORTS}
            pick={(effort) => choose({ effort })}
          />
        )}
        {used.pixels && !(kind === "webm" && chosen.transparent) && (
          <Choose
            label="Pixel format"
            value={chosen.pixelFormat}
            options={(PIXEL_FORMATS[kind] ?? []).map((f): [typeof f, string] => [
              f,
              PIXEL_WORDS[f],
            ])}
            pick={(pixelFormat) => choose({ pixelFormat })}
          />
        )}
      </Row>
    </>
  );
}
