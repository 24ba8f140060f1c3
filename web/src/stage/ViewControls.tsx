import { Button, Checkbox, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useParts, type Guide, type View } from "../common/store/store";
import { Choice, chip, Corner } from "./stageButtons";
import { useKeepView } from "../common/useKeepView";

const VIEWS: Record<View, string> = {
  perspective: "Perspective",
  camera: "Camera",
  front: "Front",
  side: "Side",
  top: "Top",
};
const GUIDES: Record<Guide, string> = {
  thirds: "Thirds",
  safe: "Safe areas (90 and 80 %)",
  centre: "Centre",
};

/** From where the study is looked at, and what its cameras and lights are. */
export function ViewControls({ state }: { state: StudyState }) {
  const { view, four, sheet, set, look, fit } = useParts(
    "view",
    "four",
    "sheet",
    "set",
    "look",
    "fit",
  );
  const keepView = useKeepView(state);
  const { cameras = [], camera } = documentOf(state);
  const own = cameras.find((c) => c.id === camera) ?? cameras[0];
  const isFree = view.name === "perspective" || four;
  const open = (name: "camera" | "light") => set({ sheet: sheet === name ? null : name });
  return (
    <>
      {/* In a row of its own: there may be many buttons in the first. */}
      {view.name === "camera" && !four && (
        <Corner at={{ left: 14, top: 50 }}>
          <Guides />
        </Corner>
      )}
      <Corner at={{ right: 14, top: 12 }}>
        <Choice
          label="View"
          value={view.name}
          options={cameras.length > 1 ? { ...VIEWS, camera: own.name } : VIEWS}
          pick={look}
          actions={
            isFree
              ? [
                  {
                    label: "Keep this view",
                    title: "The study’s camera looks from here from now on",
                    run: () => void keepView("set"),
                  },
                  {
                    label: "Keep it as another camera",
                    title: "The study has one more camera, which looks from here",
                    run: () => void keepView("new"),
                  },
                ]
              : []
          }
        />
        <Button
          sx={chip}
          aria-pressed={sheet === "camera"}
          title="Cameras: lens, focus, format, path, shake"
          onClick={() => open("camera")}
        >
          Cameras
        </Button>
        <Button
          sx={chip}
          aria-pressed={sheet === "light"}
          title="Lights, backdrop, ground and finish"
          onClick={() => open("light")}
        >
          Light
        </Button>
        <Button
          sx={chip}
          aria-pressed={four}
          title="Top, perspective, front and side"
          onClick={() => set({ four: !four })}
        >
          Four views
        </Button>
        <Button sx={chip} onClick={fit}>
          Fit
        </Button>
      </Corner>
    </>
  );
}

function Guides() {
  const { guides, set } = useParts("guides", "set");
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const toggle = (guide: Guide) =>
    set({
      guides: guides.includes(guide) ? guides.filter((g) => g !== guide) : [...guides, guide],
    });
  return (
    <>
      <Button sx={chip} aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        Guides ▾
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {(Object.keys(GUIDES) as Guide[]).map((guide) => (
          <MenuItem
            key={guide}
            role="menuitemcheckbox"
            aria-checked={guides.includes(guide)}
            onClick={() => toggle(guide)}
            sx={{ pl: 1 }}
          >
            <Checkbox size="small" checked={guides.includes(guide)} tabIndex={-1} sx={{ p: 0.5 }} />
            {GUIDES[guide]}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
