import { ListSubheader, MenuItem, Select, Typography } from "@mui/material";
import { documentOf } from "../../api/document";
import { useStateAround } from "./useStateAround";

interface Props {
  value: string;
  label: string;
  pick: (address: string) => void;
}

/** A piece or marker of the study. */
export function AnchorCell({ value, label, pick }: Props) {
  const { state } = useStateAround();
  if (!state) return null;
  const { pieces, markers = [] } = documentOf(state);
  const groups = [
    { head: "Markers", items: markers.map((m) => ({ at: `/markers/${m.id}`, name: m.name })) },
    { head: "Pieces", items: pieces.map((p) => ({ at: `/pieces/${p.id}`, name: p.name })) },
  ].filter((group) => group.items.length > 0);
  if (groups.length === 0) {
    return (
      <Typography variant="caption" color="textSecondary">
        There is neither a piece nor a marker yet.
      </Typography>
    );
  }
  const gone = value !== "" && !groups.some((g) => g.items.some((i) => i.at === value));
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
          choose one
        </MenuItem>
      )}
      {gone && (
        <MenuItem value={value} disabled>
          something that is gone
        </MenuItem>
      )}
      {groups.flatMap(({ head, items }) => [
        <ListSubheader key={head}>{head}</ListSubheader>,
        ...items.map(({ at, name }) => (
          <MenuItem key={at} value={at}>
            {name}
          </MenuItem>
        )),
      ])}
    </Select>
  );
}
