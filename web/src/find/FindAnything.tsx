import { Box, Dialog, DialogTitle, Typography, useTheme } from "@mui/material";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { Command } from "cmdk";
import { useState } from "react";
import type { StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useInterface } from "../state/store";
import { useCommands } from "./commands";
import { written } from "./keys";
import { ranked } from "./rank";

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
  const [wanted, setWanted] = useState("");
  const found = ranked(commands, (c) => ({ title: c.name, also: c.also, help: c.help }), wanted);
  // The group of what fits best comes first.
  const groups = [...new Set(found.map((c) => c.group))];
  return (
    <>
      <DialogTitle sx={visuallyHidden}>Find anything</DialogTitle>
      <Box
        component={Command}
        label="Find anything"
        shouldFilter={false}
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
        <Command.Input
          autoFocus
          value={wanted}
          onValueChange={setWanted}
          placeholder="Find a command, a value, a step, a study"
        />
        <Command.List>
          <Command.Empty>
            Nothing is called that. Try “noise”, “export” or a study’s name.
          </Command.Empty>
          {groups.map((group) => (
            <Command.Group key={group} heading={group}>
              {found
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
                    <span style={{ whiteSpace: "nowrap" }}>{c.name}</span>
                    {!c.keys && c.help && (
                      <Typography variant="caption" color="textSecondary" noWrap sx={{ pl: 3 }}>
                        {c.help}
                      </Typography>
                    )}
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
