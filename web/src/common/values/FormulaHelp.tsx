import { Box, Popover, Typography } from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../../api/queries";
import { FIGURES } from "../theme";
import { PlainButton } from "../PlainButton";

/** The names and functions a formula may use. */
export function FormulaHelp() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const catalogue = useCatalogue().data;
  const pairs = (entries: { key: string; label: string }[] | undefined) =>
    (entries ?? []).map((e) => [e.key, e.label] as const);
  const names = pairs(catalogue?.formula_names);
  const functions = pairs(catalogue?.functions);
  return (
    <>
      <PlainButton
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{
          cursor: "pointer",
          fontSize: 12,
          color: "text.secondary",
          "&:hover, &:focus-visible": { color: "text.primary" },
        }}
      >
        Names and functions ▾
      </PlainButton>
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
