import FileOpenOutlined from "@mui/icons-material/FileOpenOutlined";
import MoreHoriz from "@mui/icons-material/MoreHoriz";
import { Button, IconButton, Menu, MenuItem } from "@mui/material";
import { useRef, useState } from "react";
import { client, unwrap, type Preset } from "../api/client";
import { useInterface } from "../common/store/store";

async function told(work: () => Promise<unknown>) {
  try {
    await work();
  } catch (error) {
    useInterface.getState().say({ text: (error as Error).message, tone: "error" });
  }
}

/** What else can be done with a preset. */
export function PresetMenu({ preset }: { preset: Preset }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const say = useInterface((s) => s.say);
  const params = { params: { path: { preset_id: preset.id } } };
  const restore = () =>
    void told(async () => unwrap(await client.POST("/api/presets/{preset_id}/restore", params)));
  const remove = () =>
    void told(async () => {
      unwrap(await client.DELETE("/api/presets/{preset_id}", params));
      say({
        text: `“${preset.name}” is off the list; where it is used, its steps stay.`,
        tone: "info",
        action: { label: "Bring it back", run: restore },
      });
    });
  const close = () => setAnchor(null);
  return (
    <>
      <IconButton
        aria-label={`More about ${preset.name}`}
        size="small"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ position: "absolute", right: 12, top: 12, color: "#ede7f5", bgcolor: "#14112066" }}
      >
        <MoreHoriz fontSize="small" />
      </IconButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        <MenuItem component="a" href={`/api/presets/${preset.id}/document`} onClick={close}>
          Save as a file
        </MenuItem>
        <MenuItem
          onClick={() => {
            close();
            remove();
          }}
        >
          Remove
        </MenuItem>
      </Menu>
    </>
  );
}

/** Brings in presets that were saved as files. */
export function PresetFile() {
  const input = useRef<HTMLInputElement>(null);
  const bring = (file: File) =>
    told(async () => {
      let document: Record<string, never>;
      try {
        document = JSON.parse(await file.text()) as Record<string, never>;
      } catch {
        throw new Error(`${file.name} is not JSON. A preset is saved from the sheet of steps.`);
      }
      unwrap(await client.POST("/api/presets", { body: { document } }));
    });
  return (
    <>
      <Button
        variant="outlined"
        startIcon={<FileOpenOutlined />}
        onClick={() => input.current?.click()}
        sx={{ whiteSpace: "nowrap" }}
      >
        Preset from a file
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="Preset file"
        accept=".json"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </>
  );
}
