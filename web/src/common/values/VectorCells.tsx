import { Box, Typography } from "@mui/material";
import { useState } from "react";
import type { ValueEntry } from "../../api/client";
import { isSignal, type DocValue, type Scalar, type SignalValue } from "../../api/document";
import { startMoving } from "../../model/signals";
import { beforeStill } from "../../model/stilled";
import { ActionMenu } from "../ActionMenu";
import { MoveButton } from "./MoveButton";
import { NumberCell } from "./NumberCell";
import type { ValueProps } from "./valueProps";

/** The three components of a vector, each of which may move. */
export function VectorCells(props: ValueProps) {
  const { entry, value } = props;
  const parts = (value ?? entry.default) as Scalar[];
  const put = (k: number, v: DocValue) =>
    parts.map((p, i) => (i === k ? (v as Scalar) : p)) as DocValue;
  const [asked, setAsked] = useState<{ x: number; y: number } | null>(null);
  const startOf = (k: number): SignalValue =>
    beforeStill(props.address && `${props.address}/${k}`) ??
    startMoving(Number(parts[k]), { ...one, default: (entry.default as number[])[k] });
  const before = parts.flatMap((_, k) =>
    beforeStill(props.address && `${props.address}/${k}`) ? [k] : [],
  );
  const moves = [
    ...(before.length ? [{ label: "as it moved before", which: before }] : []),
    ...parts.map((_, k) => ({ label: "xyz"[k], which: [k] })),
    { label: "all three", which: [0, 1, 2] },
  ];
  const one: ValueEntry = { ...entry, kind: "number", default: (entry.default as number[])[0] };
  return (
    <Box sx={{ display: "flex", gap: 0.75, alignItems: "center", minWidth: 0 }}>
      {parts.map((part, k) => {
        const cell = {
          ...one,
          label: `${entry.label} ${"xyz"[k]}`,
          default: (entry.default as number[])[k],
        };
        return (
          <Box
            key={k}
            sx={{ display: "flex", flex: 1, gap: 0.5, alignItems: "center", minWidth: 0 }}
          >
            <Typography variant="caption" color="textSecondary">
              {"xyz"[k]}
            </Typography>
            <NumberCell
              {...props}
              compact
              entry={cell}
              scalar={part}
              path={`${props.path}/${k}`}
              address={props.address && `${props.address}/${k}`}
              live={(v) => props.live(put(k, v))}
              store={(v, label) => props.store(put(k, v), label)}
              openSignal={props.openSignal}
            />
          </Box>
        );
      })}
      <MoveButton
        moving={parts.some(isSignal)}
        label={entry.label}
        onClick={(event) => {
          if (parts.some(isSignal)) return props.openSignal?.();
          const box = event.currentTarget.getBoundingClientRect();
          setAsked({ x: box.left, y: box.bottom });
        }}
      />
      <ActionMenu
        at={asked}
        close={() => setAsked(null)}
        actions={moves.map(({ label, which }) => ({
          label,
          run: () => {
            const next = parts.map((part, k) => (which.includes(k) ? startOf(k) : part));
            props.store(next as DocValue, `Move ${entry.label.toLowerCase()} ${label}`);
          },
        }))}
      />
    </Box>
  );
}
