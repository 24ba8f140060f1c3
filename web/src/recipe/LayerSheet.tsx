import { Box, ButtonBase, InputBase, Popover, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { useCatalogue } from "../api/queries";
import { ranked } from "../model/rank";

interface Props {
  anchor: HTMLElement | null;
  close: () => void;
  pick: (key: string) => void;
  /** Whether they are for a look, which has layers that no step has. */
  inLook?: boolean;
}

/** All kinds of mask layers, by what they go by; found by typing. */
export function LayerSheet({ anchor, close, pick, inLook = false }: Props) {
  const catalogue = useCatalogue().data;
  const [wanted, setWanted] = useState("");
  const list = useRef<HTMLDivElement>(null);
  const layers = (catalogue?.layers ?? []).filter((entry) => inLook || !entry.in_looks);
  const groups = wanted.trim()
    ? [{ key: "found", label: "Found", entries: ranked(layers, (e) => e, wanted) }]
    : (catalogue?.layer_groups ?? []).map((group) => ({
        ...group,
        entries: layers.filter((e) => e.group === group.key),
      }));
  const take = (key: string) => {
    setWanted("");
    pick(key);
  };
  const step = (by: number) => {
    const all = [...(list.current?.querySelectorAll<HTMLElement>("button") ?? [])];
    const at = all.indexOf(document.activeElement as HTMLElement);
    all[Math.max(0, Math.min(all.length - 1, at + by))]?.focus();
  };
  return (
    <Popover
      open={anchor !== null}
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{ paper: { sx: { width: 800 } } }}
    >
      <InputBase
        autoFocus
        fullWidth
        placeholder="Where: by what?"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") close();
          if (e.key === "Enter" && groups[0]?.entries.length) {
            // The focus goes back to the button that opened the sheet, which Enter would press.
            e.preventDefault();
            take(groups[0].entries[0].key);
          }
          if (e.key === "ArrowDown") {
            e.preventDefault();
            step(1);
          }
        }}
        inputProps={{ "aria-label": "Search layers", role: "searchbox" }}
        sx={{ px: 2, py: 1, borderBottom: "1px solid", borderColor: "divider" }}
      />
      <Box
        ref={list}
        role="group"
        aria-label="Kinds of mask layers"
        onKeyDown={(e) => {
          const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
          if (!by) return;
          e.preventDefault();
          step(by);
        }}
        sx={{ p: 1.5, maxHeight: 440, overflowY: "auto" }}
      >
        <Box sx={{ columnCount: 3, columnGap: 2 }}>
          {groups.map((group) => (
            <Box key={group.key} sx={{ breakInside: "avoid", mb: 1.25 }}>
              <Typography
                variant="caption"
                sx={{ color: "roles.where", fontWeight: 600, px: 0.75 }}
              >
                {group.label}
              </Typography>
              {group.entries.map((entry) => (
                <ButtonBase
                  key={entry.key}
                  onClick={() => take(entry.key)}
                  sx={{
                    display: "block",
                    width: "100%",
                    textAlign: "left",
                    borderRadius: 1,
                    px: 0.75,
                    py: 0.4,
                    "&:hover, &:focus-visible": { bgcolor: "roles.quiet" },
                  }}
                >
                  <Typography variant="body2" sx={{ fontWeight: 600 }}>
                    {entry.title}
                  </Typography>
                  <Typography
                    variant="caption"
                    color="textSecondary"
                    sx={{ display: "block", lineHeight: 1.25 }}
                  >
                    {entry.help}
                  </Typography>
                </ButtonBase>
              ))}
            </Box>
          ))}
        </Box>
        {groups.length === 0 && (
          <Typography color="textSecondary" sx={{ p: 1 }}>
            No layer goes by “{wanted}”.
          </Typography>
        )}
      </Box>
    </Popover>
  );
}
