import { Box, Button, InputBase, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { KeyPoint } from "../api/document";
import { FIGURES } from "../theme/theme";
import { parseNumber } from "../values/parse";
import { easedBy, easeOf, mirrored, scaledAbout, type Ease } from "./keyEdits";

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
  says: string;
  /** Fields of the key that is chosen alone. */
  chosenKey: ReactNode;
}

/** What can be done to keys: how they ease, mirrored, scaled about the playhead. */
export function CurveTools(props: Props) {
  const { keys, chosen, frames, frame, change } = props;
  const [factor, setFactor] = useState("2");
  const at = chosen.size ? chosen : new Set(keys.keys());
  const eases = new Set([...chosen].map((k) => keys[k] && easeOf(keys[k])));
  const scale = () => {
    const found = parseNumber(factor, "×");
    if ("error" in found || found.value <= 0) return setFactor("2");
    change("Scale keys", (all) => scaledAbout(all, at, frame, found.value));
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
        "& .MuiButton-root": { py: 0, minWidth: 0 },
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
      <Button onClick={() => change("Mirror in time", (all) => mirrored(all, frames))}>
        Mirror
      </Button>
      <Button onClick={scale} title="About the playhead">
        Scale ×
      </Button>
      <InputBase
        value={factor}
        onChange={(e) => setFactor(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") scale();
        }}
        inputProps={{ "aria-label": "Factor of the scale" }}
        sx={{ width: 38, fontFamily: FIGURES, fontSize: 12.5, ml: -0.75 }}
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
  );
}
