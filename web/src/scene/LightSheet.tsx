import { Box, Button, Menu, MenuItem, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { client, unwrap, type Operation, type StudyState } from "../api/client";
import { documentOf, freshId } from "../api/document";
import { useCatalogue } from "../api/queries";
import { SideSheet } from "../common/SideSheet";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { shownBox } from "../common/shownBox";
import { BackdropPart } from "./BackdropPart";
import { LightRow } from "./LightRow";
import { ScenePart } from "./ScenePart";

/** What lights the study, what it stands on and before, and what is done to its picture. */
export function LightSheet({ state }: { state: StudyState }) {
  const open = useInterface((s) => s.sheet === "light");
  return open ? (
    <SideSheet title="Light and scene">
      <Lights state={state} />
    </SideSheet>
  ) : null;
}

function Lights({ state }: { state: StudyState }) {
  const catalogue = useCatalogue().data;
  const chosen = useInterface((s) => s.light);
  const set = useInterface((s) => s.set);
  const say = useInterface((s) => s.say);
  const change = useChange(state.id, "/lights");
  const { lights = [], ground, finish } = documentOf(state);
  if (!catalogue) return null;
  const add = (key: string) => {
    const entry = catalogue.lights.find((d) => d.key === key)!;
    const ids = lights.map((l) => l.id);
    const id = freshId("light", ids);
    const same = lights.filter((l) => l.light === key).length;
    const name = same ? `${entry.title} ${same + 1}` : entry.title;
    change.edit(`Add ${entry.title.toLowerCase()}`, [
      {
        do: "insert",
        path: "/lights",
        after: ids.at(-1) ?? null,
        item: { id, name, light: key, values: {} } as never,
      },
    ]);
    set({ light: id });
  };
  const begin = async (key: string, title: string) => {
    const box = shownBox.current;
    const low = box.isEmpty() ? [-0.5, -0.5, -0.5] : box.min.toArray();
    const high = box.isEmpty() ? [0.5, 0.5, 0.5] : box.max.toArray();
    try {
      const answer = await client.POST("/api/studies/{study_id}/light", {
        params: { path: { study_id: state.id } },
        body: { key, low, high },
      });
      await change.stored(`Light: ${title}`, unwrap(answer).operations as Operation[]);
      set({ light: null });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  return (
    <>
      {lights.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          Nothing shines but what glows by itself. Add a light, or begin with a set-up.
        </Typography>
      )}
      {lights.map((light) => (
        <LightRow key={light.id} state={state} light={light} open={chosen === light.id} />
      ))}
      <Box sx={{ display: "flex", gap: 1, my: 1 }}>
        <Choose
          label="+ Add a light"
          items={catalogue.lights.map((d) => ({ key: d.key, title: d.title, help: d.help }))}
          pick={(item) => add(item.key)}
        />
        <Choose
          label="Begin with…"
          items={catalogue.light_setups}
          pick={(item) => void begin(item.key, item.title)}
        />
      </Box>
      <Part title="Backdrop">
        <BackdropPart state={state} />
      </Part>
      <Part title="Ground">
        <ScenePart
          state={state}
          address="/ground"
          entries={catalogue.ground_values}
          given={ground?.values ?? {}}
        />
      </Part>
      <Part title="Finish">
        <ScenePart
          state={state}
          address="/finish"
          entries={catalogue.finish_values}
          given={finish?.values ?? {}}
        />
      </Part>
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ borderTop: "1px solid", borderColor: "divider", pt: 1, mt: 1 }}
    >
      <Typography variant="body2" component="h3" sx={{ fontWeight: 650, mb: 0.25 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

interface Item {
  key: string;
  title: string;
  help: string;
}

function Choose(props: { label: string; items: Item[]; pick: (item: Item) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="outlined"
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ py: 0.25 }}
      >
        {props.label}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {props.items.map((item) => (
          <MenuItem
            key={item.key}
            onClick={() => {
              setAnchor(null);
              props.pick(item);
            }}
            sx={{ display: "block", maxWidth: 290, whiteSpace: "normal" }}
          >
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {item.title}
            </Typography>
            <Typography variant="caption" color="textSecondary" component="p">
              {item.help}
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
