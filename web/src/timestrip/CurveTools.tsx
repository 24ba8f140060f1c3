import { Box, Button, InputBase, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { KeyPoint } from "../api/document";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { easedBy, easeOf, type Ease } from "../model/keyEdits";
import { parseNumber } from "../model/parse";
import { mirror, scale, type Along, type Edited } from "./groupEdits";

const EASES: Ease[] = ["smooth", "eased", "linear", "held"];

interface Props {
  keys: KeyPoint[];
  chosen: ReadonlySet<number>;
  frames: number;
  frame: number;
  snap: boolean;
  setSnap: (snap: boolean) => void;
  change: (label: string, alter: (keys: KeyPoint[]) => KeyPoint[]) => void;
  fit: () => void;
  /** Paste the copied keys backwards, where some are copied. */
  paste: (() => void) | null;
  says: string;
  /** Fields of the key that is chosen alone. */
  chosenKey: ReactNode;
}

/** What can be done to keys: how they ease, mirrored, scaled about the playhead. */
export function CurveTools(props: Props) {
  const { keys, chosen, frames, frame, change } = props;
  const [factor, setFactor] = useState("2");
  const [along, setAlong] = useState<Along>("time");
  const { say } = useInterface.getState();
  const eases = new Set([...chosen].map((k) => keys[k] && easeOf(keys[k])));
  const take = (label: string, edited: Edited) => {
    if ("refused" in edited) say({ text: edited.refused, tone: "info" });
    else change(label, () => edited.keys);
  };
  const scaleThem = () => {
    const found = parseNumber(factor, "×");
    if ("error" in found) return say({ text: found.error, tone: "info" });
    take(`Scale keys in ${along}`, scale(keys, chosen, along, found.value, frame));
  };
  return (
    <Box
      sx={{
        display: "flex",
        gap: 1,
        alignItems: "center",
        px: 1,
        py: 0.25,
        borderBottom: "1px solid",
        borderColor: "divider",
        flexWrap: "wrap",
        rowGap: 0,
        whiteSpace: "nowrap",
        "& .MuiButton-root": { py: 0, px: 0.75, minWidth: 0, whiteSpace: "nowrap", flex: "none" },
        "& .MuiToggleButton-root": { whiteSpace: "nowrap", flex: "none" },
      }}
    >
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="How keys go on"
        value={eases.size === 1 ? [...eases][0] : null}
        disabled={chosen.size === 0}
        onChange={(_, ease: Ease | null) =>
          ease &&
          change(`Ease keys: ${ease}`, (all) =>
            all.map((k, i) => (chosen.has(i) ? easedBy(k, ease) : k)),
          )
        }
        sx={{ "& .MuiToggleButton-root": { textTransform: "none", py: 0, px: 1 } }}
      >
        {EASES.map((ease) => (
          <ToggleButton key={ease} value={ease}>
            {ease}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="Along what keys are mirrored and scaled"
        value={along}
        onChange={(_, next: Along | null) => next && setAlong(next)}
        sx={{ "& .MuiToggleButton-root": { textTransform: "none", py: 0, px: 1 } }}
      >
        <ToggleButton value="time">time</ToggleButton>
        <ToggleButton value="value">value</ToggleButton>
      </ToggleButtonGroup>
      <Button
        onClick={() => take(`Mirror keys in ${along}`, mirror(keys, chosen, along, frames))}
        title={along === "time" ? "The last one first" : "Up where they went down"}
      >
        Mirror
      </Button>
      <Button
        onClick={scaleThem}
        title={along === "time" ? "About the playhead" : "About their middle"}
      >
        Scale ×
      </Button>
      <InputBase
        value={factor}
        onChange={(e) => setFactor(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") scaleThem();
        }}
        inputProps={{ "aria-label": "Factor of the scale" }}
        sx={{ width: 44, fontFamily: FIGURES, fontSize: 12.5, ml: -0.75 }}
      />
      <ToggleButton
        value="snap"
        size="small"
        selected={props.snap}
        onChange={() => props.setSnap(!props.snap)}
        sx={{ textTransform: "none", py: 0, px: 1 }}
      >
        whole frames
      </ToggleButton>
      <Button onClick={props.fit}>Fit</Button>
      {props.paste && (
        <Button onClick={props.paste} title="At the playhead, the last one first (Ctrl Shift V)">
          Paste reversed
        </Button>
      )}
      {/* A row that is always there, so that the curves do not move when a key is chosen. */}
      <Box sx={{ flexBasis: "100%", height: 26, display: "flex", alignItems: "center", gap: 1 }}>
        {props.chosenKey}
        <Typography
          variant="caption"
          color="textSecondary"
          noWrap
          role="status"
          sx={{ flex: 1, textAlign: "right", fontFamily: FIGURES }}
        >
          {props.says}
        </Typography>
      </Box>
    </Box>
  );
}
