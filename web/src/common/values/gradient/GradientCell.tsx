import { Box, Popover } from "@mui/material";
import { useState } from "react";
import type { DocValue } from "../../../api/document";
import { useCatalogue } from "../../../api/queries";
import { gradientCss, ownGradient } from "../../../model/gradientStops";
import { PlainButton } from "../../PlainButton";
import { GradientEditor } from "./GradientEditor";

interface Props {
  value: DocValue;
  label: string;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
}

/** A gradient that is on its way to the server, and what is stored until it has come there. */
interface Asked {
  value: DocValue;
  instead: string;
}

/** A gradient as a strip of its colours, which opens its editor. */
export function GradientCell(props: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const bundled = useCatalogue().data?.gradients ?? [];
  const [asked, setAsked] = useState<Asked | null>(null);
  // What was asked for last is gone on from, before the server has stored it.
  const value = asked && asked.instead === JSON.stringify(props.value) ? asked.value : props.value;
  const gradient = ownGradient(value, bundled);
  const name = typeof value === "string" ? value : "";
  const store = (next: DocValue, label?: string) => {
    setAsked({ value: next, instead: JSON.stringify(props.value) });
    props.store(next, label);
  };
  return (
    <>
      <PlainButton
        aria-label={`${props.label}: ${name || "colours of its own"}`}
        aria-haspopup="dialog"
        aria-expanded={anchor !== null}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ display: "flex", alignItems: "center", gap: 1, cursor: "pointer", minWidth: 0 }}
      >
        <Box
          sx={{
            width: 118,
            height: 14,
            borderRadius: "5px",
            border: "1px solid",
            borderColor: "divider",
            background: gradientCss(gradient),
          }}
        />
        <Box component="span" sx={{ typography: "caption", color: "text.secondary" }}>
          {name}
        </Box>
      </PlainButton>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAsked(null);
          setAnchor(null);
        }}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        slotProps={{
          paper: { sx: { width: 348, p: 1.5 }, role: "dialog", "aria-label": props.label },
        }}
      >
        <GradientEditor live={props.live} store={store} gradient={gradient} name={name} />
      </Popover>
    </>
  );
}
