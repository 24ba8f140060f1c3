import { Box } from "@mui/material";
import type { DocValue } from "../../api/document";
import { EDITORS } from "./editors";
import { ValueName } from "./ValueName";
import type { ValueProps } from "./valueProps";

const ROW = {
  display: "grid",
  gridTemplateColumns: "84px 1fr",
  alignItems: "center",
  minHeight: 27,
  columnGap: 1,
};

const TALL = { ...ROW, alignItems: "start", "& > :first-of-type": { pt: 1 } };

/** One declared value, edited as its kind is. */
export function ValueRow(props: ValueProps) {
  const { entry, name } = props;
  const value = props.value ?? (entry.default as DocValue);
  const { edit: Editor, room } = EDITORS[entry.kind];
  const editor = <Editor {...props} value={value} text={String(value)} />;
  if (room === "wide") return <Box data-value={name}>{editor}</Box>;
  return (
    <Box sx={room === "tall" ? TALL : ROW} data-value={name}>
      <ValueName
        entry={entry}
        address={props.address}
        value={value}
        lanes={props.lanes}
        path={props.path}
        openSignal={props.openSignal}
      />
      {room === "parts" ? (
        editor
      ) : (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0 }}>{editor}</Box>
      )}
    </Box>
  );
}
