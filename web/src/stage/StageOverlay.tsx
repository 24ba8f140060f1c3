import { Box, Button } from "@mui/material";
import type { StudyState } from "../api/client";
import { useCompiling } from "../api/queries";
import { useParts, type DrawMode, type ShardsShown } from "../common/store/store";
import { costWords } from "../model/costWords";
import { NEW_TABLE } from "../model/tableState";
import { countWords } from "../model/countWords";
import { LEGEND } from "./legend";
import { Choice, chip, Corner } from "./stageButtons";
import { useRestarts } from "./useRestarts";
import { ViewControls } from "./ViewControls";

const DRAW: Record<DrawMode, string> = {
  surface: "Surface",
  edges: "Surface and edges",
  wire: "Edges",
  points: "Points",
  traced: "Traced",
};
const SHARDS: Record<ShardsShown, string> = {
  "as they are": "Shards as they are",
  coloured: "Shards in colours",
  apart: "Shards pulled apart",
};
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
  const {
    quality,
    draw,
    heat,
    shards,
    counts,
    gripSays,
    toolSays,
    drawing,
    stageError,
    table,
    set,
  } = useParts(
    "quality",
    "draw",
    "heat",
    "shards",
    "counts",
    "gripSays",
    "toolSays",
    "drawing",
    "stageError",
    "table",
    "set",
  );
  const compiling = useCompiling();
  const restarts = useRestarts(state);
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
      <ViewControls state={state} />
      <Corner at={{ left: 16, bottom: 10, ...LEGEND, "&:has(> :empty)": { display: "none" } }}>
        <Counts />
      </Corner>
      {gripSays && (
        <Corner at={{ left: "50%", bottom: 10, transform: "translateX(-50%)", ...LEGEND }}>
          {gripSays}
        </Corner>
      )}
      {(toolSays || restarts) && (
        <Corner
          at={{
            left: "50%",
            top: 54,
            transform: "translateX(-50%)",
            whiteSpace: "nowrap",
            ...LEGEND,
          }}
        >
          {toolSays || (
            <span role="status" data-testid="restarts">
              ↻ {restarts}
            </span>
          )}
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
