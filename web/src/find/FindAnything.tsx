import { Box, Dialog, DialogTitle, useTheme } from "@mui/material";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { Command } from "cmdk";
import { useNavigate } from "react-router";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { documentOf, useCatalogue, useStudies, useTakeBack } from "../api/queries";
import { useAddStep } from "../recipe/AddStep";
import { useAddMarker } from "../recipe/useAddMarker";
import { foldKey } from "../recipe/rows";
import { useInterface, useParts } from "../state/store";
import { NEW_TABLE } from "../table/tableState";
import { KEYS, written } from "./keys";

interface Found {
  name: string;
  group: string;
  keys?: string;
  run: () => void;
}

function useCommands(state: StudyState, piece: Piece | undefined): Found[] {
  const ui = useParts(
    "playing",
    "heat",
    "table",
    "theme",
    "step",
    "set",
    "look",
    "fit",
    "four",
    "fold",
  );
  const go = useNavigate();
  const catalogue = useCatalogue().data;
  const studies = useStudies().data ?? [];
  const takeBack = useTakeBack(state.id);
  const add = useAddStep(state, piece);
  const addMarker = useAddMarker(state.id);
  const markers = documentOf(state).markers ?? [];
  const { set, look, fit } = ui;
  const entries = [...(catalogue?.forms ?? []), ...(catalogue?.steps ?? [])];
  const titles = new Map(entries.map((entry) => [entry.key, entry.title]));
  return [
    {
      group: "Do",
      name: ui.playing ? "Pause" : "Play",
      keys: KEYS.play.keys,
      run: () => set({ playing: !ui.playing }),
    },
    { group: "Do", name: "Undo", keys: KEYS.undo.keys, run: () => takeBack.mutate("undo") },
    { group: "Do", name: "Redo", keys: KEYS.redo.keys, run: () => takeBack.mutate("redo") },
    { group: "Do", name: "Deliver", run: () => set({ dialog: "deliver" }) },
    {
      group: "Do",
      name: ui.table ? "Close the table" : "Table of points and faces",
      run: () => set({ table: ui.table ? null : NEW_TABLE }),
    },
    { group: "Do", name: "History", run: () => set({ dialog: "history" }) },
    {
      group: "Do",
      name: "Heat of the mask",
      keys: KEYS.heat.keys,
      run: () => set({ heat: !ui.heat }),
    },
    {
      group: "Do",
      name: ui.theme === "paper" ? "Night theme" : "Paper theme",
      run: () => set({ theme: ui.theme === "paper" ? "night" : "paper" }),
    },
    { group: "Do", name: "List of keys", keys: KEYS.help.keys, run: () => set({ dialog: "keys" }) },
    { group: "Do", name: "Back to the gallery", run: () => void go("/") },
    {
      group: "View",
      name: "Fit in view",
      keys: KEYS.fit.keys,
      run: fit,
    },
    {
      group: "View",
      name: ui.four ? "One view" : "Four views",
      keys: KEYS.four.keys,
      run: () => set({ four: !ui.four }),
    },
    { group: "View", name: "Study’s own view", run: () => look("perspective") },
    ...(["front", "side", "top"] as const).map((v) => ({
      group: "View",
      name: `View from the ${v}`,
      run: () => look(v),
    })),
    ...(piece?.recipe ?? []).map((step, k) => ({
      group: "Steps of this piece",
      name: `${k + 1} ${titles.get(step.step) ?? step.step}${step.note ? `: ${step.note}` : ""}`,
      run: () => set({ step: step.id }),
    })),
    ...(piece?.groups ?? []).map((group) => ({
      group: "Groups of this piece",
      name: group.name,
      run: () => {
        ui.fold(foldKey(state.id, piece!.id, group.id), false);
        set({ step: piece!.recipe.find((s) => s.group === group.id)?.id ?? null });
      },
    })),
    ...markers.map((m) => ({
      group: "Markers",
      name: m.name,
      run: () => set({ marker: m.id }),
    })),
    { group: "Markers", name: "Add a marker", run: () => void addMarker() },
    ...(catalogue?.steps ?? []).map((entry) => ({
      group: "Add a step",
      name: `Add ${entry.title.toLowerCase()}`,
      run: () => void add(entry, ui.step ?? piece?.recipe.at(-1)?.id ?? null),
    })),
    ...studies.map((s) => ({
      group: "Open a study",
      name: s.name,
      run: () => void go(`/study/${s.id}`),
    })),
  ];
}

/** Any command, step or study, found by typing. */
export function FindAnything(props: { state: StudyState; piece: Piece | undefined }) {
  const open = useInterface((s) => s.dialog === "find");
  const set = useInterface((s) => s.set);
  return (
    <Dialog open={open} onClose={() => set({ dialog: null })} fullWidth maxWidth="sm">
      <Finder {...props} />
    </Dialog>
  );
}

function Finder({ state, piece }: { state: StudyState; piece: Piece | undefined }) {
  const set = useInterface((s) => s.set);
  const commands = useCommands(state, piece);
  const { palette } = useTheme();
  const groups = [...new Set(commands.map((c) => c.group))];
  return (
    <>
      <DialogTitle sx={visuallyHidden}>Find anything</DialogTitle>
      <Box
        component={Command}
        label="Find anything"
        sx={{
          "& [cmdk-input]": {
            font: "inherit",
            fontSize: 17,
            width: "100%",
            boxSizing: "border-box",
            px: 3,
            py: 2,
            border: 0,
            outline: "none",
            bgcolor: "transparent",
            color: "text.primary",
            borderBottom: `1px solid ${palette.divider}`,
          },
          "& [cmdk-list]": { maxHeight: 420, overflowY: "auto", p: 1 },
          "& [cmdk-group-heading]": {
            color: "text.secondary",
            fontSize: 12,
            px: 1.5,
            pt: 1,
            pb: 0.5,
          },
          "& [cmdk-item]": {
            display: "flex",
            justifyContent: "space-between",
            px: 1.5,
            py: 0.75,
            borderRadius: 2,
            cursor: "pointer",
          },
          "& [cmdk-item][data-selected=true]": { bgcolor: "roles.quiet" },
          "& [cmdk-empty]": { p: 3, color: "text.secondary" },
        }}
      >
        <Command.Input autoFocus placeholder="Find a command, a step, a study" />
        <Command.List>
          <Command.Empty>
            Nothing is called that. Try “bend”, “front” or a study’s name.
          </Command.Empty>
          {groups.map((group) => (
            <Command.Group key={group} heading={group}>
              {commands
                .filter((c) => c.group === group)
                .map((c) => (
                  <Command.Item
                    key={`${group}/${c.name}`}
                    value={`${group} ${c.name}`}
                    onSelect={() => {
                      set({ dialog: null });
                      c.run();
                    }}
                  >
                    <span>{c.name}</span>
                    {c.keys && <span style={{ opacity: 0.65 }}>{written(c.keys)}</span>}
                  </Command.Item>
                ))}
            </Command.Group>
          ))}
        </Command.List>
      </Box>
    </>
  );
}
