import AddOutlined from "@mui/icons-material/AddOutlined";
import CloseOutlined from "@mui/icons-material/CloseOutlined";
import { Box, Button, IconButton, InputBase, Typography } from "@mui/material";
import { useState } from "react";
import { FIGURES } from "../theme";
import { parseNumber } from "../../model/parse";

export interface RateKey {
  frame: number;
  value: number;
}

interface Props {
  rates: RateKey[];
  rate: number;
  frame: number;
  put: (rates: RateKey[], label: string) => void;
}

/** Changes of a run's rate: at a frame it goes so fast, and smoothly from one to the next. */
export function RateKeys({ rates, rate, frame, put }: Props) {
  const sorted = (next: RateKey[]) => [...next].sort((a, b) => a.frame - b.frame);
  const change = (k: number, part: Partial<RateKey>) =>
    put(sorted(rates.map((r, i) => (i === k ? { ...r, ...part } : r))), "Change the rate");
  return (
    <Box sx={{ my: 0.5 }}>
      {rates.map((r, k) => (
        <Box key={`${k}/${r.frame}/${r.value}`} sx={{ display: "flex", alignItems: "center" }}>
          <Typography variant="caption" sx={{ width: 92 }}>
            at frame
          </Typography>
          <Figure
            label={`Frame of change ${k + 1}`}
            value={r.frame}
            put={(v) => change(k, { frame: v })}
          />
          <Typography variant="caption" sx={{ mx: 1 }}>
            rate
          </Typography>
          <Figure
            label={`Rate of change ${k + 1}`}
            value={r.value}
            put={(v) => change(k, { value: v })}
          />
          <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
            / loop
          </Typography>
          <IconButton
            aria-label={`Remove change ${k + 1}`}
            onClick={() =>
              put(
                rates.filter((_, i) => i !== k),
                "Remove a change of rate",
              )
            }
          >
            <CloseOutlined sx={{ fontSize: 15 }} />
          </IconButton>
        </Box>
      ))}
      <Button
        startIcon={<AddOutlined />}
        onClick={() =>
          put(
            sorted([
              ...rates.filter((r) => r.frame !== frame),
              { frame, value: rates.at(-1)?.value ?? rate },
            ]),
            "Change the rate here",
          )
        }
        sx={{ py: 0, color: "roles.when" }}
      >
        Change the rate at frame {frame}
      </Button>
    </Box>
  );
}

function Figure(props: { label: string; value: number; put: (value: number) => void }) {
  const [text, setText] = useState(String(props.value));
  const keep = () => {
    const found = parseNumber(text, "");
    if ("error" in found) setText(String(props.value));
    else if (found.value !== props.value) props.put(found.value);
  };
  return (
    <InputBase
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") (e.target as HTMLElement).blur();
      }}
      inputProps={{ "aria-label": props.label }}
      sx={{
        width: 56,
        fontFamily: FIGURES,
        fontSize: 12.5,
        borderBottom: "1px solid",
        borderColor: "divider",
      }}
    />
  );
}
