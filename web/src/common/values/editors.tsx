import { MenuItem, Select, Switch, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { ValueEntry } from "../../api/client";
import type { DocValue, Scalar } from "../../api/document";
import { AddressCell } from "./AddressCell";
import { AnchorCell } from "./AnchorCell";
import { CurveCell } from "./CurveCell";
import { FormulaCell } from "./FormulaCell";
import { GradientCell } from "./gradient/GradientCell";
import { NumberCell } from "./NumberCell";
import { PathsCell } from "./PathsCell";
import { PickedCell } from "./PickedCell";
import { PlacesCell } from "./PlacesCell";
import { MovableColour } from "./MovableColour";
import { FilmCell, ImageCell } from "./ImageCell";
import { PieceCell } from "./PieceCell";
import { SoundCell } from "./SoundCell";
import { StrokesCell } from "./StrokesCell";
import { TextCell } from "./TextCell";
import type { ValueProps } from "./valueProps";
import { VectorCells } from "./VectorCells";

/** value : what is given, or the default; text : the same as text */
interface EditorProps extends ValueProps {
  value: DocValue;
  text: string;
}

interface Kind {
  edit: (props: EditorProps) => ReactNode;
  /**
   * How much room it takes beside its name: one line, several, the whole width for what says itself
   * what it is, or the rest of the line for what sets its own parts.
   */
  room?: "tall" | "wide" | "parts";
}

/** Of what names something by one text. */
const named =
  (Cell: (props: { value: string; label: string; pick: (v: string) => void }) => ReactNode) =>
  ({ text, entry, store }: EditorProps) => (
    <Cell value={text} label={entry.label} pick={(v) => store(v)} />
  );

const number = (props: EditorProps) => <NumberCell {...props} scalar={props.value as Scalar} />;
const vector = (props: EditorProps) => <VectorCells {...props} />;

function choice({ entry, store, text }: EditorProps) {
  return (
    <Select
      value={text}
      onChange={(e) => store(e.target.value)}
      inputProps={{ "aria-label": entry.label }}
      sx={{ maxWidth: 210 }}
    >
      {entry.options.map((o) => (
        <MenuItem key={o.key} value={o.key}>
          {o.label}
        </MenuItem>
      ))}
    </Select>
  );
}

function onOrOff({ entry, store, value }: EditorProps) {
  return (
    <Switch
      size="small"
      checked={Boolean(value)}
      onChange={(e) => store(e.target.checked)}
      slotProps={{ input: { "aria-label": entry.label } }}
    />
  );
}

function colour({ entry, value, live, store, openSignal }: EditorProps) {
  return (
    <MovableColour
      value={value}
      label={entry.label}
      live={live}
      store={store}
      openSignal={openSignal}
    />
  );
}

function gradient({ entry, value, live, store }: EditorProps) {
  return <GradientCell value={value} label={entry.label} live={live} store={store} />;
}

function storedFile({ text }: EditorProps) {
  return (
    <Typography variant="caption" color="textSecondary">
      {text ? `stored file ${text.slice(0, 8)}` : "none; drop a file on the stage"}
    </Typography>
  );
}

function writtenText({ entry, text, store }: EditorProps) {
  return <TextCell key={text} label={entry.label} text={text} store={store} />;
}

/** How each kind of value is edited. */
export const EDITORS: Record<ValueEntry["kind"], Kind> = {
  number: { edit: number },
  whole: { edit: number },
  vector: { edit: vector, room: "parts" },
  direction: { edit: vector, room: "parts" },
  choice: { edit: choice },
  switch: { edit: onOrOff },
  colour: { edit: colour },
  gradient: { edit: gradient },
  asset: { edit: storedFile },
  image: { edit: named(ImageCell) },
  film: { edit: named(FilmCell) },
  sound: { edit: named(SoundCell) },
  piece: { edit: named(PieceCell) },
  anchor: { edit: named(AnchorCell) },
  address: { edit: named(AddressCell) },
  paths: { edit: PathsCell, room: "tall" },
  curve: {
    edit: ({ entry, ...props }) => <CurveCell label={entry.label} {...props} />,
    room: "tall",
  },
  picked: { edit: PickedCell, room: "wide" },
  places: { edit: PlacesCell, room: "wide" },
  strokes: { edit: StrokesCell, room: "wide" },
  formula: { edit: (props) => <FormulaCell {...props} key={props.text} />, room: "tall" },
  frames: { edit: writtenText },
  text: { edit: writtenText },
};
