import { Box, InputBase, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { FIGURES } from "../theme";
import { FormulaHelp } from "./FormulaHelp";
import { FormulaCounts, FormulaPlot } from "./FormulaPlot";
import { useFormula } from "./useFormula";
import type { ValueProps } from "./valueProps";

const TEXT = {
  fontFamily: FIGURES,
  fontSize: 12.5,
  lineHeight: 1.5,
  whiteSpace: "pre-wrap",
  overflowWrap: "anywhere",
  p: 0,
} as const;

/** A formula: shown on the stage as it is written while it can be read; its mistake marked where
 * it cannot, and the last good result stays. */
export function FormulaCell(props: ValueProps & { text: string }) {
  const { entry, live, store } = props;
  const [text, setText] = useState(props.text);
  const found = useFormula(text);
  const known = found?.text === text ? found : undefined;
  const problem = known?.problem ?? null;
  const good = known !== undefined && !problem;
  const shown = useRef(props.text);
  useEffect(() => {
    if (!good || shown.current === text) return;
    shown.current = text;
    live(text);
  }, [good, text, live]);
  // Entered before the server has read it: it is kept as soon as that has been done.
  const entered = useRef(false);
  const keep = () => {
    entered.current = !good && !problem && text !== props.text;
    if (good && text !== props.text) store(text);
  };
  useEffect(() => {
    if (!entered.current || !known) return;
    entered.current = false;
    if (good) store(text);
  }, [known, good, text, store]);
  return (
    <Box sx={{ flex: 1, minWidth: 0, py: 0.5 }}>
      <Box
        sx={{
          position: "relative",
          px: 1,
          py: 0.5,
          border: "1px solid",
          borderColor: problem ? "error.main" : "divider",
          borderRadius: 1.5,
          bgcolor: "roles.card",
          "&:focus-within": { borderColor: problem ? "error.main" : "roles.what" },
        }}
      >
        {problem && (
          <Box
            aria-hidden
            sx={{ ...TEXT, position: "absolute", inset: "4px 8px", color: "transparent" }}
          >
            {text.slice(0, problem.column)}
            <Box
              component="mark"
              data-mistake
              sx={{
                color: "transparent",
                bgcolor: "transparent",
                textDecoration: "underline wavy",
                textDecorationColor: (t) => t.palette.error.main,
                textUnderlineOffset: "3px",
              }}
            >
              {text.slice(problem.column, problem.column + problem.length) || " "}
            </Box>
          </Box>
        )}
        <InputBase
          multiline
          fullWidth
          value={text}
          onChange={(e) => setText(e.target.value.replace(/\n/g, " "))}
          onBlur={keep}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") {
              e.preventDefault();
              keep();
            }
            if (e.key === "Escape") setText(props.text);
          }}
          inputProps={{
            "aria-label": `Formula: ${entry.label}`,
            "aria-invalid": Boolean(problem),
            spellCheck: false,
            autoCapitalize: "off",
          }}
          sx={{ ...TEXT, position: "relative", "& textarea": TEXT }}
        />
      </Box>
      {!problem && found?.plot && <FormulaPlot plot={found.plot} label={entry.label} />}
      {problem && (
        <Typography variant="caption" color="error" role="status" component="p" sx={{ mt: 0.5 }}>
          {problem.message} {problem.hint} The stage shows the last formula that could be read.
        </Typography>
      )}
      <Box sx={{ display: "flex", alignItems: "baseline", columnGap: 1, flexWrap: "wrap" }}>
        {!problem && found?.plot && <FormulaCounts plot={found.plot} />}
        <Box sx={{ flex: 1 }} />
        <FormulaHelp />
      </Box>
    </Box>
  );
}
