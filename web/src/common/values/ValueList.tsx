import { Box } from "@mui/material";
import { Fragment, useState, type ReactNode } from "react";
import type { Lane, ValueEntry } from "../../api/client";
import type { DocValue } from "../../api/document";
import { useInterface } from "../store/store";
import { ValueRow } from "./ValueRow";
import { applies } from "../../model/applies";
import { PlainButton } from "../PlainButton";

interface Props {
  entries: Record<string, ValueEntry>;
  given: Record<string, DocValue>;
  lanes: Lane[];
  /** Path of the values inside the step, as lanes name it. */
  path: string;
  /** Address of what holds the values in the document, where they stand there by themselves. */
  at?: string;
  tone: string;
  frames: number;
  rate: number;
  live: (name: string, value: DocValue) => void;
  store: (name: string, value: DocValue, label: string) => void;
  openSignal?: () => void;
  /** What stands around the row of a value, or instead of it. */
  around?: (name: string, entry: ValueEntry, row: ReactNode) => ReactNode;
}

/** The main values at once, the others behind "more". */
export function ValueList(props: Props) {
  const [open, setAll] = useState(false);
  const { entries, given } = props;
  // What was searched for may be among the others.
  const sought = useInterface((s) => s.sought);
  const all = open || (sought !== null && entries[sought]?.main === false);
  const known = Object.entries(entries).filter(([name]) => applies(entries, given, name));
  const rest = known.filter(([, e]) => !e.main);
  const shown = all ? known : known.filter(([, e]) => e.main);
  return (
    <Box>
      {shown.map(([name, entry]) => {
        const row = (
          <ValueRow
            key={name}
            name={name}
            entry={entry}
            value={given[name]}
            lanes={props.lanes}
            path={`${props.path}/${name}`}
            address={props.at && `${props.at}/${name}`}
            tone={props.tone}
            frames={props.frames}
            rate={props.rate}
            live={(v) => props.live(name, v)}
            store={(v, label) => props.store(name, v, label ?? `Set ${entry.label.toLowerCase()}`)}
            openSignal={props.openSignal}
          />
        );
        return (
          <Fragment key={name}>{props.around ? props.around(name, entry, row) : row}</Fragment>
        );
      })}
      {rest.length > 0 && (
        <PlainButton
          aria-expanded={all}
          onClick={() => {
            useInterface.getState().set({ sought: null });
            setAll(!all);
          }}
          sx={{
            cursor: "pointer",
            color: "text.secondary",
            fontSize: 12.5,
            py: 0.5,
            "&:hover, &:focus-visible": { color: "text.primary" },
          }}
        >
          {all
            ? "Fewer values ▴"
            : `${rest.length} more ${rest.length === 1 ? "value" : "values"} ▾`}
        </PlainButton>
      )}
    </Box>
  );
}
