import { Box, Tooltip, Typography } from "@mui/material";
import { useState } from "react";
import type { StepWords, StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { useChange } from "../common/useStep";
import { costWords } from "../model/costWords";
import { between } from "../model/grouping";
import { IntoView } from "./IntoView";
import { OpenStep } from "./OpenStep";
import { Sparkline } from "./Sparkline";
import { StepMenu } from "./StepMenu";
import { NoteText } from "./StepNote";
import { UseDot } from "../common/UseDot";
import { useSortableLine } from "./useSortableLine";
import { WorkingBar } from "./WorkingBar";
import { PlainButton } from "../common/PlainButton";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
  number: number;
}

/** One step: a line when closed, with its three ribbons when chosen. */
export function StepRow({ state, piece, step, words, number }: Props) {
  const chosen = useInterface((s) => s.step === step.id);
  const together = useInterface(
    (s) => s.upTo !== null && between(piece, s.step, s.upTo).includes(step.id),
  );
  const solo = useInterface((s) => s.solo);
  const error = useInterface((s) => s.stepErrors[step.id]);
  const time = useInterface((s) => s.times[step.id]);
  const working = useInterface((s) => s.working[step.id]);
  const set = useInterface((s) => s.set);
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const form = number === 1;
  const change = useChange(state.id, `/pieces/${piece.id}/recipe/${step.id}`);
  const { line, lifted, hold } = useSortableLine(step.id, form);
  const on = step.on !== false && (!solo || solo === step.id || form);
  const [title, rest] = split(words.title, words.sentence);
  return (
    <Box
      {...line}
      data-step={step.id}
      sx={{
        borderBottom: "1px solid",
        borderColor: "divider",
        bgcolor: chosen ? "roles.card" : together ? "roles.quiet" : "background.default",
        borderLeft: "3px solid",
        borderLeftColor: chosen || together ? "text.primary" : "transparent",
        pl: step.group ? "12px" : 0,
        position: "relative",
        boxShadow: lifted ? 4 : 0,
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        setMenu({ x: e.clientX, y: e.clientY });
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", height: 34, pr: 1 }}>
        <PlainButton
          aria-expanded={chosen}
          {...hold}
          onClick={(e) => {
            const { step: other } = useInterface.getState();
            if (e.shiftKey && other && other !== step.id) set({ upTo: step.id });
            else set({ step: chosen ? null : step.id, layer: null });
          }}
          sx={{
            display: "flex",
            alignItems: "center",
            flex: 1,
            minWidth: 0,
            height: "100%",
            pl: "11px",
            cursor: "pointer",
            opacity: on ? 1 : 0.45,
          }}
        >
          <Typography variant="h3" component="span" color="textSecondary" sx={{ width: 30 }}>
            {number}
          </Typography>
          <Tooltip title={chosen ? "" : words.sentence} placement="right" enterDelay={900}>
            <Typography
              variant="body2"
              noWrap
              component="span"
              sx={{
                flex: 1,
                fontSize: 13.5,
                textDecoration: step.on === false ? "line-through" : "none",
              }}
            >
              <b>{title}</b>
              {rest}
            </Typography>
          </Tooltip>
          {time?.change && (
            <Typography
              component="span"
              color="textSecondary"
              noWrap
              title={time.counts}
              sx={{ fontFamily: FIGURES, fontSize: 11, flex: "none", mx: 0.75 }}
            >
              {time.change}
            </Typography>
          )}
          <Sparkline samples={words.lanes[0]?.samples} />
          <Typography
            component="span"
            color="textSecondary"
            sx={{ fontFamily: FIGURES, fontSize: 11, width: 42, textAlign: "right" }}
            title={
              time?.reused ? "Kept from an earlier frame" : "What this step took, milliseconds"
            }
          >
            {time ? costWords(time) : ""}
          </Typography>
        </PlainButton>
        <UseDot
          on={step.on !== false}
          label={`Use step ${number}, ${words.title}`}
          fixed={form ? "A form is always used" : undefined}
          turn={(on) => change.store("on", on, "Use or not use step")}
        />
      </Box>
      {working && (
        <WorkingBar
          study={state.id}
          piece={working.piece}
          title={words.title}
          share={working.share}
        />
      )}
      {error && (
        <Typography role="alert" variant="body2" color="error" sx={{ px: 2, pb: 1, pl: "44px" }}>
          ⚑ {error}
        </Typography>
      )}
      {!chosen && step.note && (
        <Box sx={{ pl: "44px", pr: 2, pb: 0.75, mt: -0.75 }}>
          <NoteText note={step.note} />
        </Box>
      )}
      {chosen && <IntoView />}
      {chosen && <OpenStep state={state} piece={piece} step={step} words={words} form={form} />}
      <StepMenu
        at={menu}
        close={() => setMenu(null)}
        state={state}
        piece={piece}
        step={step}
        form={form}
      />
    </Box>
  );
}

/** The sentence's first word in bold, as the step's name. */
function split(title: string, sentence: string): [string, string] {
  const [first, ...rest] = sentence.split(" ");
  return first ? [first, rest.length ? ` ${rest.join(" ")}` : ""] : [title, ""];
}
