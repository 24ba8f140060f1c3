import { Box, Button, Divider, Menu, MenuItem } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { StudyState } from "../api/client";
import { useCompiling } from "../api/queries";
import { useParts, type DrawMode, type ShardsShown, type View } from "../common/store/store";
import { costWords } from "../model/costWords";
import { NEW_TABLE } from "../model/tableState";
import { countWords } from "../model/countWords";
import { LEGEND } from "./legend";
import { useKeepView } from "./useKeepView";

const DRAW: Record<DrawMode, string> = {
  surface: "Surface",
  edges: "Surface and edges",
  wire: "Edges",
  points: "Points",
};
const SHARDS: Record<ShardsShown, string> = {
  "as they are": "Shards as they are",
  coloured: "Shards in colours",
  apart: "Shards pulled apart",
};
const VIEWS: Record<View, string> = {
  perspective: "Perspective",
  front: "Front",
  side: "Side",
  top: "Top",
};

const chip = {
  color: "#ede7f5",
  // Nearly opaque: a pale piece may stand behind it.
  bgcolor: "#3a344cd9",
  border: "1px solid #ffffff2b",
  borderRadius: 2,
  py: 0.25,
  "&:hover": { bgcolor: "#4d465fe6" },
  "&[aria-pressed=true]": { bgcolor: "#6f6785e6", borderColor: "#ffffff99" },
};

function Choice<T extends string>(props: {
  label: string;
  value: T;
  options: Record<T, string>;
  pick: (value: T) => void;
  /** What else the menu does, below its options. */
  action?: { label: string; title: string; run: () => void };
}) {
  const { action } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        sx={chip}
        onClick={(e) => setAnchor(e.currentTarget)}
        aria-haspopup="menu"
        aria-label={`${props.label}: ${props.options[props.value]}`}
      >
        {props.options[props.value]} ▾
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {(Object.keys(props.options) as T[]).map((key) => (
          <MenuItem
            key={key}
            selected={key === props.value}
            onClick={() => {
              props.pick(key);
              setAnchor(null);
            }}
          >
            {props.options[key]}
          </MenuItem>
        ))}
        {action && <Divider />}
        {action && (
          <MenuItem
            title={action.title}
            onClick={() => {
              action.run();
              setAnchor(null);
            }}
          >
            {action.label}
          </MenuItem>
        )}
      </Menu>
    </>
  );
}

function Corner({ at, children }: { at: object; children: ReactNode }) {
  return (
    <Box
      sx={{
        position: "absolute",
        display: "flex",
        gap: 1,
        alignItems: "center",
        // In a narrow window one above the other, so that the two sides do not meet.
        "@media (max-width: 1039px)": {
          flexDirection: "top" in at ? "column" : "row",
          alignItems: !("right" in at) ? "flex-start" : "flex-end",
        },
        ...at,
      }}
    >
      {children}
    </Box>
  );
}

function Counts() {
  const { counts, playing } = useParts("counts", "playing");
  const compiling = useCompiling();
  return (
    <span data-testid="counts">
      {counts.points > 0
        ? `${countWords(counts)} · ${costWords({ ms: counts.ms, reused: false })}`
        : counts.ms > 0 && "nothing is there at this frame"}
      {playing && counts.rate > 0 ? ` · ${counts.rate.toFixed(0)} frames/s` : ""}
      {compiling && counts.points > 0 && ` · ${compiling}`}
    </span>
  );
}

/** What stands over the 3D view: how it is drawn, from where, and its figures. */
export function StageOverlay(props: { state: StudyState; empty: boolean; loading: boolean }) {
  const { state, empty, loading } = props;
  const keepView = useKeepView(state);
  const {
    quality,
    draw,
    heat,
    shards,
    counts,
    view,
    gripSays,
    toolSays,
    drawing,
    stageError,
    table,
    four,
    set,
    look,
    fit,
  } = useParts(
    "quality",
    "draw",
    "heat",
    "shards",
    "counts",
    "view",
    "gripSays",
    "toolSays",
    "drawing",
    "stageError",
    "table",
    "four",
    "set",
    "look",
    "fit",
  );
  const compiling = useCompiling();
  return (
    <>
      <Corner at={{ left: 14, top: 12 }}>
        <Choice
          label="Quality"
          value={quality}
          options={{ draft: "Draft", final: "Final" }}
          pick={(value) => set({ quality: value })}
        />
        <Choice
          label="Drawn as"
          value={draw}
          options={DRAW}
          pick={(value) => set({ draw: value })}
        />
        <Button
          sx={{
            ...chip,
            "&[aria-pressed=true]": {
              color: "#f2c14e",
              borderColor: "#f2c14e",
              bgcolor: "#4e4438e6",
            },
          }}
          aria-pressed={heat}
          title="How strongly the chosen step acts, as a colour"
          onClick={() => set({ heat: !heat })}
        >
          ▲ Mask heat
        </Button>
        {(counts.shards > 0 || shards !== "as they are") && (
          <Choice
            label="Shards"
            value={shards}
            options={SHARDS}
            pick={(value) => set({ shards: value })}
          />
        )}
        <Button
          sx={chip}
          aria-pressed={table !== null}
          onClick={() => set({ table: table ? null : NEW_TABLE })}
        >
          Table
        </Button>
      </Corner>
      <Corner at={{ right: 14, top: 12 }}>
        <Choice
          label="View"
          value={view.name}
          options={VIEWS}
          pick={look}
          action={
            view.name === "perspective" || four
              ? {
                  label: "Keep this view",
                  title: "The study’s camera looks from here from now on",
                  run: () => void keepView(),
                }
              : undefined
          }
        />
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
      <Corner at={{ left: 16, bottom: 10, ...LEGEND, "&:has(> :empty)": { display: "none" } }}>
        <Counts />
      </Corner>
      {gripSays && (
        <Corner at={{ left: "50%", bottom: 10, transform: "translateX(-50%)", ...LEGEND }}>
          {gripSays}
        </Corner>
      )}
      {toolSays && (
        <Corner
          at={{
            left: "50%",
            top: 54,
            transform: "translateX(-50%)",
            whiteSpace: "nowrap",
            ...LEGEND,
          }}
        >
          {toolSays}
        </Corner>
      )}
      {stageError && !drawing && (
        <Box
          role="alert"
          sx={{
            position: "absolute",
            left: "50%",
            top: 60,
            transform: "translateX(-50%)",
            maxWidth: 520,
            bgcolor: "#2a1512ee",
            color: "#ffd9cf",
            border: "1px solid #e0714f",
            borderRadius: 2,
            px: 2,
            py: 1,
          }}
        >
          ⚑ {stageError}{" "}
          {!loading && <span style={{ opacity: 0.8 }}>The last good frame is shown.</span>}
        </Box>
      )}
      {(empty || loading) && !stageError && (
        <Box
          sx={{
            position: "absolute",
            inset: 0,
            display: "grid",
            placeItems: "center",
            color: "#ede7f5",
            pointerEvents: "none",
            textAlign: "center",
          }}
        >
          {empty
            ? "Nothing stands here yet. Add a piece, or drop a mesh file."
            : compiling || "Computing…"}
        </Box>
      )}
    </>
  );
}
