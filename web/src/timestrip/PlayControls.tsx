import PauseIcon from "@mui/icons-material/Pause";
import PlayArrowIcon from "@mui/icons-material/PlayArrow";
import VolumeOffOutlined from "@mui/icons-material/VolumeOffOutlined";
import VolumeUpOutlined from "@mui/icons-material/VolumeUpOutlined";
import { Box, Button, IconButton, MenuItem, Select, Tooltip } from "@mui/material";
import type { StudyState } from "../api/client";
import { loopOf, documentOf } from "../api/document";
import { useInterface, useParts, type Pace, type PlayMode } from "../common/store/store";
import { useChange } from "../common/useStep";
import { LoopField } from "./LoopField";
import { useHearing } from "./useHearing";

/** Play, how it plays, and how long the loop is. */
export function PlayControls({ state }: { state: StudyState }) {
  const { playing, pace, mode, set } = useParts("playing", "pace", "mode", "set");
  const loop = loopOf(documentOf(state));
  const change = useChange(state.id, "/loop");
  const hearing = useInterface((s) => s.hearing);
  useHearing(state);
  return (
    <Box sx={{ p: 1.25, display: "flex", flexDirection: "column", gap: 0.75, minWidth: 0 }}>
      <Box sx={{ display: "flex", gap: 0.75 }}>
        <Tooltip title="Space" placement="top">
          <Button
            variant="contained"
            startIcon={playing ? <PauseIcon /> : <PlayArrowIcon />}
            onClick={() => set({ playing: !playing })}
            sx={{ flex: 1 }}
          >
            {playing ? "Pause" : "Play"}
          </Button>
        </Tooltip>
        <Select
          value={mode}
          onChange={(e) => set({ mode: e.target.value as PlayMode })}
          inputProps={{ "aria-label": "How often" }}
          sx={{ borderRadius: 5, width: 64, "& .MuiSelect-select": { px: 1 } }}
          renderValue={(m) => ({ loop: "⟳", once: "→", both: "⇄" })[m]}
        >
          <MenuItem value="loop">⟳ Loop</MenuItem>
          <MenuItem value="once">→ Once</MenuItem>
          <MenuItem value="both">⇄ Back and forth</MenuItem>
        </Select>
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, alignItems: "center" }}>
        <Select
          value={pace}
          onChange={(e) => set({ pace: e.target.value as Pace })}
          inputProps={{ "aria-label": "Pace" }}
          sx={{ borderRadius: 5, flex: 1, minWidth: 0 }}
        >
          <MenuItem value="time">Real time</MenuItem>
          <MenuItem value="every">Every frame</MenuItem>
        </Select>
        {state.sounds.length > 0 && (
          <Tooltip title={hearing ? "The sound is heard while it plays" : "The sound is silent"}>
            <IconButton
              aria-label="Hear the sound"
              aria-pressed={hearing}
              onClick={() => set({ hearing: !hearing })}
              size="small"
              sx={{ color: hearing ? "text.primary" : "text.disabled" }}
            >
              {hearing ? <VolumeUpOutlined /> : <VolumeOffOutlined />}
            </IconButton>
          </Tooltip>
        )}
      </Box>
      <LoopField
        label="Length"
        value={loop.frames}
        unit="frames"
        rate={loop.rate}
        least={1}
        most={100_000}
        store={(v) => change.store("frames", Math.round(v), "Set loop length")}
      />
      <LoopField
        label="Rate"
        value={loop.rate}
        unit="/ s"
        rate={loop.rate}
        least={0.1}
        most={1000}
        store={(v) => change.store("rate", v, "Set rate")}
      />
      <HowItPlays seconds={loop.frames / loop.rate} frames={loop.frames} />
    </Box>
  );
}

/** How long it takes and how much of it is ready, or why it plays more slowly than it should. */
function HowItPlays({ seconds, frames }: { seconds: number; frames: number }) {
  const bottleneck = useInterface((s) => s.bottleneck);
  const ready = useInterface((s) =>
    s.playing && s.ready.size < frames ? ` · ${s.ready.size} ready` : "",
  );
  return (
    <Box
      role="status"
      sx={{
        color: bottleneck ? "roles.amber" : "text.secondary",
        fontSize: bottleneck ? 11.5 : 12,
        lineHeight: 1.25,
      }}
    >
      {bottleneck || `${seconds.toFixed(2)} s${ready}`}
    </Box>
  );
}
