import { Box } from "@mui/material";
import type { Schemas } from "../api/client";
import { nearest, spread } from "../model/jobWords";

interface Props {
  id: string;
  /** Another one where pictures may have changed. */
  edition: string;
  queued: Schemas["QueuedTold"];
  /** Places side by side. */
  places: number;
  height: number;
}

/** Frames from all over a job, which fill as they come. */
export function FilmStrip({ id, edition, queued, places, height }: Props) {
  const { pictures, frames, width, height: rows } = queued;
  const wanted = spread(pictures, places);
  const reach = Math.max(0, Math.floor(pictures / Math.max(wanted.length, 1) / 2));
  return (
    <Box
      data-testid="film-strip"
      sx={{
        display: "flex",
        gap: "2px",
        height,
        borderRadius: 2,
        overflow: "hidden",
        bgcolor: "#15121c",
        p: "2px",
        boxSizing: "border-box",
      }}
    >
      {wanted.map((place) => {
        const shown = nearest(frames, place, reach);
        return (
          <Box
            key={place}
            sx={{
              flex: 1,
              minWidth: 0,
              borderRadius: "3px",
              bgcolor: "#282334",
              overflow: "hidden",
              maxWidth: (height * width) / Math.max(rows, 1),
            }}
          >
            {shown !== null && (
              <Box
                component="img"
                src={`/api/jobs/${id}/frames/${shown}?small=320&edition=${edition}`}
                alt=""
                sx={{ width: "100%", height: "100%", objectFit: "cover", display: "block" }}
              />
            )}
          </Box>
        );
      })}
    </Box>
  );
}
