import { Box, InputBase, Typography } from "@mui/material";
import { useState } from "react";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useInterface, useParts } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { useChange } from "../common/useStep";
import { costWords } from "../model/costWords";
import { foldKey, type Row } from "../model/rows";
import { GroupFront } from "./GroupFront";
import { GroupMenu } from "./GroupMenu";
import { UseDot } from "../common/UseDot";
import { useSortableLine } from "./useSortableLine";
import { PlainButton } from "../common/PlainButton";

type Head = Extract<Row, { kind: "group" }>;

/** The head of steps that stand together: their name, and the values that are shown first. */
export function GroupRow({ state, piece, row }: { state: StudyState; piece: Piece; row: Head }) {
  const { group, steps, folded } = row;
  const { naming, times, set, fold } = useParts("naming", "times", "set", "fold");
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const base = `/pieces/${piece.id}`;
  const change = useChange(state.id, base);
  const { line, lifted, hold } = useSortableLine(row.key);
  const on = steps.some((s) => s.on !== false);
  const last = row.index + steps.length;
  const ms = steps.reduce((sum, s) => sum + (times[s.id]?.ms ?? 0), 0);
  const reused = steps.every((s) => times[s.id]?.reused);
  return (
    <Box
      {...line}
      data-group={group.id}
      sx={{
        borderBottom: "1px solid",
        borderColor: "divider",
        bgcolor: "roles.quiet",
        position: "relative",
        boxShadow: lifted ? 4 : 0,
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        setMenu({ x: e.clientX, y: e.clientY });
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", height: 34, pr: 1, pl: "14px" }}>
        {naming === group.id ? (
          <NameField
            name={group.name}
            store={(name) => change.store(`groups/${group.id}/name`, name, "Rename group")}
          />
        ) : (
          <PlainButton
            aria-expanded={!folded}
            {...hold}
            onClick={() => {
              // A chosen step would keep the group open.
              if (!folded) set({ step: null });
              fold(foldKey(state.id, piece.id, group.id), !folded);
            }}
            onDoubleClick={() => set({ naming: group.id })}
            sx={{ ...HEAD, opacity: on ? 1 : 0.45 }}
          >
            <Box component="span" aria-hidden sx={{ width: 14, color: "text.secondary" }}>
              {folded ? "▸" : "▾"}
            </Box>
            <Typography variant="h3" component="span" noWrap sx={{ flex: "0 1 auto" }}>
              {group.name}
            </Typography>
            <Typography
              variant="body2"
              component="span"
              color="textSecondary"
              noWrap
              sx={{ flex: 1, ml: 1 }}
            >
              {steps.length === 1
                ? `step ${last}`
                : `steps ${row.index + 1}${steps.length === 2 ? " and " : " to "}${last}`}
            </Typography>
            <Typography
              component="span"
              color="textSecondary"
              sx={{ fontFamily: FIGURES, fontSize: 11, textAlign: "right", flex: "none" }}
            >
              {folded && times[steps[0].id] ? costWords({ ms, reused }) : ""}
            </Typography>
          </PlainButton>
        )}
        <UseDot
          on={on}
          label={`Use the group ${group.name}`}
          turn={(use) =>
            change.edit(
              "Use or not use group",
              steps.map((s) => ({
                do: "set",
                path: `${base}/recipe/${s.id}/on`,
                value: use as never,
              })),
            )
          }
        />
      </Box>
      <GroupFront state={state} piece={piece} group={group} />
      <GroupMenu
        at={menu}
        close={() => setMenu(null)}
        state={state}
        piece={piece}
        group={group}
        steps={steps}
      />
    </Box>
  );
}

const HEAD = {
  display: "flex",
  alignItems: "center",
  flex: 1,
  minWidth: 0,
  height: "100%",
  cursor: "pointer",
} as const;

function NameField({ name, store }: { name: string; store: (name: string) => void }) {
  const [text, setText] = useState(name);
  const end = (kept: boolean) => {
    useInterface.getState().set({ naming: null });
    const wanted = text.trim();
    if (kept && wanted && wanted !== name) store(wanted);
  };
  return (
    <InputBase
      autoFocus
      fullWidth
      value={text}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => end(true)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") end(false);
        if (e.key === "Enter") end(true);
      }}
      inputProps={{ "aria-label": "Name of the group", maxLength: 120 }}
      sx={{ ml: "14px", typography: "h3", "& input": { p: 0 } }}
    />
  );
}
