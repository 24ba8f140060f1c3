import { MenuItem, Select, Typography } from "@mui/material";
import { documentOf } from "../../api/document";
import { useStateAround } from "./useStateAround";

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
    <Select
      value={value}
      displayEmpty
      error={gone || value === ""}
      onChange={(e) => pick(e.target.value)}
      inputProps={{ "aria-label": label }}
      sx={{ maxWidth: 210 }}
    >
      {value === "" && (
        <MenuItem value="" disabled>
          choose a piece
        </MenuItem>
      )}
      {gone && (
        <MenuItem value={value} disabled>
          a piece that is gone
        </MenuItem>
      )}
      {others.map((p) => (
        <MenuItem key={p.id} value={p.id} disabled={waits(p.id)}>
          {p.name}
          {waits(p.id) ? " (it uses this piece)" : ""}
        </MenuItem>
      ))}
    </Select>
  );
}
