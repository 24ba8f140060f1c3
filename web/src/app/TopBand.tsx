import DarkModeOutlined from "@mui/icons-material/DarkModeOutlined";
import LightModeOutlined from "@mui/icons-material/LightModeOutlined";
import HistoryIcon from "@mui/icons-material/History";
import RedoIcon from "@mui/icons-material/Redo";
import SearchIcon from "@mui/icons-material/Search";
import UndoIcon from "@mui/icons-material/Undo";
import { Box, Button, IconButton, InputBase, Tooltip } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useTakeBack } from "../common/edits";
import { Mark } from "../common/Mark";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { useChange } from "../common/useStep";
import { ICON_WHERE_NARROW, WideOnly } from "../common/WideOnly";
import { FindingsButton } from "../findings/FindingsButton";
import { SavedNote } from "../study/SavedNote";
import { StudyMenu } from "../study/StudyMenu";
import { VariantPills } from "../study/VariantPills";

/** Mark and name, undo and redo, find-anything, theme, deliver. */
export function TopBand({ state }: { state: StudyState }) {
  const theme = useInterface((s) => s.theme);
  const set = useInterface((s) => s.set);
  const takeBack = useTakeBack(state.id);
  const outlined = { border: "1px solid", borderColor: "divider", bgcolor: "roles.card" };
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1.25,
        px: 2,
        // The name gives way, and the window's columns are not made wider by it.
        minWidth: 0,
        borderBottom: "1px solid",
        borderColor: "divider",
      }}
    >
      <Tooltip title="Back to the gallery">
        <Box
          component={Link}
          to="/"
          aria-label="Back to the gallery"
          sx={{ display: "flex", color: "inherit" }}
        >
          <Mark />
        </Box>
      </Tooltip>
      <StudyName key={documentOf(state).name} state={state} />
      <StudyMenu state={state} />
      <SavedNote changed={state.changed} />
      <Tooltip title={state.undo_label ? `Undo: ${state.undo_label}` : "Nothing to undo"}>
        <span>
          <IconButton
            aria-label="Undo"
            disabled={!state.undo_label}
            onClick={() => takeBack.mutate("undo")}
            sx={outlined}
          >
            <UndoIcon fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title={state.redo_label ? `Redo: ${state.redo_label}` : "Nothing to redo"}>
        <span>
          <IconButton
            aria-label="Redo"
            disabled={!state.redo_label}
            onClick={() => takeBack.mutate("redo")}
            sx={outlined}
          >
            <RedoIcon fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <Button
        variant="outlined"
        startIcon={<HistoryIcon fontSize="small" />}
        onClick={() => set({ dialog: "history" })}
        sx={ICON_WHERE_NARROW}
      >
        <WideOnly>History</WideOnly>
      </Button>
      <VariantPills state={state} />
      <Box sx={{ flex: 1 }} />
      <Button
        variant="outlined"
        onClick={() => set({ dialog: "find" })}
        startIcon={<SearchIcon fontSize="small" />}
        sx={{
          color: "text.secondary",
          ...ICON_WHERE_NARROW,
          "@media (min-width: 1180px)": { width: 200, justifyContent: "flex-start" },
        }}
      >
        <WideOnly>Find anything</WideOnly>
        <Box
          component="span"
          sx={{
            fontFamily: FIGURES,
            fontSize: 11,
            ml: "auto",
            whiteSpace: "nowrap",
            "@media (max-width: 1179px)": { display: "none" },
          }}
        >
          Ctrl K
        </Box>
      </Button>
      <FindingsButton state={state} />
      <Tooltip title="List of keys">
        <IconButton
          aria-label="List of keys"
          onClick={() => set({ dialog: "keys" })}
          sx={{ ...outlined, width: 32, height: 32, fontSize: 15 }}
        >
          ?
        </IconButton>
      </Tooltip>
      <IconButton
        aria-label={theme === "paper" ? "Night theme" : "Paper theme"}
        onClick={() => set({ theme: theme === "paper" ? "night" : "paper" })}
        sx={outlined}
      >
        {theme === "paper" ? (
          <DarkModeOutlined fontSize="small" />
        ) : (
          <LightModeOutlined fontSize="small" />
        )}
      </IconButton>
      <Button variant="contained" sx={{ flex: "none" }} onClick={() => set({ dialog: "deliver" })}>
        Deliver
      </Button>
    </Box>
  );
}

/** The study's name, changed where it stands. */
function StudyName({ state }: { state: StudyState }) {
  const name = documentOf(state).name;
  const [text, setText] = useState(name);
  const field = useRef<HTMLInputElement>(null);
  const naming = useInterface((s) => s.naming === "study");
  useEffect(() => {
    if (!naming) return;
    field.current?.focus();
    field.current?.select();
    useInterface.getState().set({ naming: null });
  }, [naming]);
  const change = useChange(state.id, "");
  const accept = () => {
    const next = text.trim();
    if (next && next !== name) change.store("name", next, "Rename study");
    else setText(name);
  };
  return (
    <InputBase
      inputRef={field}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={accept}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") (e.target as HTMLElement).blur();
        if (e.key === "Escape") setText(name);
      }}
      inputProps={{ "aria-label": "Name of the study", maxLength: 120 }}
      sx={{
        typography: "h2",
        width: `${Math.min(26, Math.max(8, text.length + 1))}ch`,
        // A long name gives way before the row grows beyond the window.
        flexShrink: 1,
        minWidth: "6ch",
        "& input": { p: 0, minWidth: 0, textOverflow: "ellipsis" },
        "&:hover, &:focus-within": { borderBottom: "1px solid", borderColor: "divider" },
      }}
    />
  );
}
