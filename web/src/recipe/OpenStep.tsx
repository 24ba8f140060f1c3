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
import { Sparkline } from "./Sparkline";
import { StepNote } from "./StepNote";
import { What } from "./What";
import { When } from "./When";
import { Where } from "./Where";
import { PlainButton } from "../common/PlainButton";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
  form: boolean;
}

const ICONS = { what: "◆", where: "▲", when: "∿" };
const NAMES = { what: "What", where: "Where", when: "When" };

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
    when: <When {...props} />,
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

function Side(props: {
  side: Ribbon;
  open: boolean;
  summary: string;
  picture: ReactNode;
  children: ReactNode;
}) {
  const { side, open } = props;
  const set = useInterface((s) => s.set);
  return (
    <Box
      sx={{
        ml: "18px",
        mr: 1.5,
        mb: 0.5,
        pl: 1.25,
        borderLeft: "3px solid",
        borderColor: `roles.${side}`,
      }}
    >
      <PlainButton
        aria-expanded={open}
        onClick={() => set({ ribbon: side })}
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 0.75,
          width: "100%",
          height: 24,
          cursor: "pointer",
          color: `roles.${side}`,
          fontWeight: 650,
          fontSize: 13,
        }}
      >
        <span aria-hidden>{ICONS[side]}</span>
        {NAMES[side]}
        {!open && (
          <Typography
            variant="body2"
            color="textSecondary"
            noWrap
            component="span"
            sx={{ flex: 1 }}
          >
            {props.summary}
          </Typography>
        )}
        {!open && props.picture}
      </PlainButton>
      {open && props.children}
    </Box>
  );
}
