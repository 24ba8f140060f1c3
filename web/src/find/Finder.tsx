import { Box, DialogTitle, Typography, useTheme } from "@mui/material";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { Command } from "cmdk";
import { useState } from "react";
import { useInterface } from "../common/store/store";
import { ranked } from "../model/rank";
import { written } from "./keys";

export interface Found {
  name: string;
  group: string;
  /** Other words by which it is looked for. */
  also?: readonly string[];
  help?: string;
  keys?: string;
  run: () => void;
}

/** Any command, step or study, found by typing. */
export function Finder({ commands }: { commands: Found[] }) {
  const set = useInterface((s) => s.set);
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
