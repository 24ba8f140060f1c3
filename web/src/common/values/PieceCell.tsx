import { MenuItem, Typography } from "@mui/material";
import { documentOf } from "../../api/document";
import { ReferenceSelect } from "./ReferenceSelect";
import { useStateAround } from "./useStateAround";

const WORDS = { gone: "a piece that is gone", none: "choose a piece" };

interface Props {
  value: string;
  label: string;
  pick: (piece: string) => void;
}

/** Another piece of the study; those that would wait for each other cannot be chosen. */
export function PieceCell({ value, label, pick }: Props) {
  const { place, state } = useStateAround();
  if (!place || !state) return null;
  const others = documentOf(state).pieces.filter((p) => p.id !== place.piece);
  if (others.length === 0) {
    return (
      <Typography variant="caption" color="textSecondary">
        There is no other piece yet; add one behind this piece’s name.
      </Typography>
    );
  }
  const waits = (id: string) =>
    state.motion.find((m) => m.id === id)?.uses.includes(place.piece) ?? false;
  const gone = value !== "" && !others.some((p) => p.id === value);
  return (
    <ReferenceSelect value={value} label={label} pick={pick} gone={gone} words={WORDS}>
      {others.map((p) => (
        <MenuItem key={p.id} value={p.id} disabled={waits(p.id)}>
          {p.name}
          {waits(p.id) ? " (it uses this piece)" : ""}
        </MenuItem>
      ))}
    </ReferenceSelect>
  );
}
