import { Box, Popover, Typography } from "@mui/material";
import { useState } from "react";
import type { ValueEntry } from "../api/client";
import { useCatalogue } from "../api/queries";
import { FIGURES } from "../theme/theme";

const NAMES: Record<string, string> = {
  "x y z": "position, m",
  "nx ny nz": "normal",
  "u v": "UV",
  i: "index, from 0",
  n: "number of points",
  q: "i / n",
  w: "mask, 0 to 1",
  t: "seconds",
  f: "frame",
  p: "share of the loop, 0 to 1",
  "a b c d": "values of your own",
};

/** The names and functions a formula may use. */
export function FormulaHelp({ entry }: { entry: ValueEntry }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const catalogue = useCatalogue().data;
  const names = Object.entries(NAMES).filter(([k]) => entry.known.includes(k.split(" ")[0]));
  const functions = (catalogue?.functions ?? []).map((f) => [f.key, f.label] as const);
  return (
    <>
      <Box
        component="button"
        type="button"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{
          all: "unset",
          cursor: "pointer",
          fontSize: 12,
          color: "text.secondary",
          "&:hover, &:focus-visible": { color: "text.primary" },
        }}
      >
        Names and functions ▾
      </Box>
      <Popover
        open={Boolean(anchor)}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box sx={{ p: 2, width: 420, maxHeight: 420, overflowY: "auto" }}>
          <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
            Names
          </Typography>
          <Words rows={[...names, [(catalogue?.constants ?? []).join(" "), "constants"]]} />
          <Typography variant="h3" component="h2" sx={{ mt: 1.5, mb: 0.5 }}>
            Functions
          </Typography>
          <Words rows={functions} />
          <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 1.5 }}>
            + − * / ** and % count; &lt; &gt; == and or not give 1 or 0; “a if x &gt; 0 else b”
            chooses. Angles are radians.
          </Typography>
        </Box>
      </Popover>
    </>
  );
}

function Words({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1.5, rowGap: 0.25 }}>
      {rows.map(([name, help]) => (
        <Box key={name} sx={{ display: "contents" }}>
          <Typography component="span" sx={{ fontFamily: FIGURES, fontSize: 12.5 }}>
            {name}
          </Typography>
          <Typography component="span" variant="body2" color="textSecondary">
            {help}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
