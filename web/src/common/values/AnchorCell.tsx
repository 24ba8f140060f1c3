import { ListSubheader, MenuItem, Typography } from "@mui/material";
import { documentOf } from "../../api/document";
import { ReferenceSelect } from "./ReferenceSelect";
import { useStateAround } from "./useStateAround";

const WORDS = { gone: "something that is gone", none: "choose one" };

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
    <ReferenceSelect value={value} label={label} pick={pick} gone={gone} words={WORDS}>
      {groups.flatMap(({ head, items }) => [
        <ListSubheader key={head}>{head}</ListSubheader>,
        ...items.map(({ at, name }) => (
          <MenuItem key={at} value={at}>
            {name}
          </MenuItem>
        )),
      ])}
    </ReferenceSelect>
  );
}
