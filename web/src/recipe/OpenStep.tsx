import { Box, Link, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { StepWords, StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useCatalogue } from "../api/queries";
import type { StepTime } from "../common/store/reports";
import { useInterface, type Ribbon } from "../common/store/store";
import { volumeWords } from "../model/countWords";
import { FIGURES } from "../common/theme";
import { useChange } from "../common/useStep";
import { Side } from "./Side";
import { Sparkline } from "./Sparkline";
import { StepNote } from "./StepNote";
import { What } from "./What";
import { When } from "./When";
import { Where } from "./Where";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
  form: boolean;
}

/** The three sides of a step; one is open, the others stand as a line. */
export function OpenStep(props: Props) {
  const { words, form } = props;
  const ribbon = useInterface((s) => s.ribbon);
  const time = useInterface((s) => s.times[props.step.id] as StepTime | undefined);
  const change = useChange(props.state.id, `/pieces/${props.piece.id}/recipe/${props.step.id}`);
  const open: Ribbon = form && ribbon === "where" ? "what" : ribbon;
  const sides: Ribbon[] = form ? ["what", "when"] : ["what", "where", "when"];
  const summary = { what: "", where: words.where, when: words.when };
  const body: Record<Ribbon, ReactNode> = {
    what: <What {...props} />,
    where: <Where {...props} />,
    when: (
      <When
        state={props.state}
        piece={props.piece}
        step={props.step.id}
        base={`/pieces/${props.piece.id}/recipe/${props.step.id}`}
        words={words}
      />
    ),
  };
  return (
    <Box sx={{ pb: 1 }}>
      <Typography variant="body2" color="textSecondary" sx={{ pl: "44px", pr: 2, pb: 0.75 }}>
        {words.sentence}.
        {time?.counts && (
          <Box component="span" sx={{ display: "block", fontFamily: FIGURES, fontSize: 11 }}>
            {time.counts}
          </Box>
        )}
        {time?.told && (
          <Box component="span" sx={{ display: "block", fontFamily: FIGURES, fontSize: 11 }}>
            {time.told}
          </Box>
        )}
        <Volume change={time?.volume} {...props} />
      </Typography>
      <StepNote step={props.step} store={(note) => change.store("note", note, "Note on step")} />
      {sides.map((side) => (
        <Side
          key={side}
          side={side}
          open={open === side}
          summary={summary[side]}
          picture={
            side === "when" ? <Sparkline samples={words.lanes[0]?.samples} width={52} /> : null
          }
        >
          {body[side]}
        </Side>
      ))}
    </Box>
  );
}

/** What smoothing did to the volume, and the way to have it back. */
function Volume({
  change,
  state,
  piece,
  step,
}: {
  change: number | null | undefined;
  state: StudyState;
  piece: Piece;
  step: Step;
}) {
  const edit = useChange(state.id, `/pieces/${piece.id}/recipe/${step.id}`);
  const keeps = useCatalogue().data?.steps.find((s) => s.key === step.step)?.keeps_volume;
  const words = volumeWords(change);
  if (!words || !keeps) return null;
  return (
    <Box component="span" sx={{ display: "block", fontFamily: FIGURES, fontSize: 11 }}>
      {words}
      {change! < 0 && step.values?.[keeps] !== true && (
        <>
          {" · "}
          <Link
            component="button"
            sx={{ font: "inherit", verticalAlign: "baseline" }}
            onClick={() => edit.store(`values/${keeps}`, true, "Grow the volume back")}
          >
            grow it back
          </Link>
        </>
      )}
    </Box>
  );
}
