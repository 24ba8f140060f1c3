import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import SaveAltOutlined from "@mui/icons-material/SaveAltOutlined";
import { Box, IconButton, Tooltip, Typography } from "@mui/material";
import { Link } from "react-router";
import { client, type Schemas } from "../api/client";
import { useMotion } from "../common/lessMotion";
import { useInterface } from "../common/store/store";

/** A study in the gallery: its loop in small, its name, and what it is. */
export function StudyCard({ study }: { study: Schemas["StudySummary"] }) {
  const say = useInterface((s) => s.say);
  const motion = useMotion();
  // While this revision's picture is drawn, the one before it is better than none.
  const shown = study.thumbnail_state === "ready" ? study.thumbnail : study.former;
  const path = { params: { path: { study_id: study.id } } };
  const remove = async () => {
    await client.DELETE("/api/studies/{study_id}", path);
    say({
      text: `“${study.name}” was taken out of the gallery.`,
      tone: "info",
      action: {
        label: "Bring back",
        run: () => void client.POST("/api/studies/{study_id}/restore", path),
      },
    });
  };
  return (
    <Box
      component="article"
      sx={{
        position: "relative",
        "& .actions": { opacity: 0 },
        "&:hover .actions, &:focus-within .actions": { opacity: 1 },
      }}
    >
      <Box
        component={Link}
        to={`/study/${study.id}`}
        sx={{
          display: "block",
          color: "inherit",
          textDecoration: "none",
          borderRadius: 3,
          "&:hover img": { transform: "scale(1.02)" },
        }}
      >
        <Box
          sx={{
            borderRadius: 3,
            overflow: "hidden",
            bgcolor: "#1d1929",
            color: "#aba2b4",
            aspectRatio: "16/10",
            position: "relative",
            // Behind the picture, until it has been drawn.
            "&::before": {
              content:
                study.thumbnail_state === "failed" ? '"no picture"' : '"drawing its picture…"',
              position: "absolute",
              inset: 0,
              display: "grid",
              placeItems: "center",
            },
          }}
        >
          {shown && (
            <Box
              component="img"
              src={motion(shown)}
              alt=""
              sx={{
                width: "100%",
                height: "100%",
                objectFit: "cover",
                transition: "transform .3s",
                position: "relative",
              }}
            />
          )}
        </Box>
        <Typography variant="h2" sx={{ mt: 1.25, pr: 9 }}>
          {study.name}
        </Typography>
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.25, pr: 9 }}>
          {study.note || `${study.pieces} ${study.pieces === 1 ? "piece" : "pieces"}`}
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {study.frames} frames · {(study.frames / study.rate).toFixed(1)} s loop
        </Typography>
      </Box>
      <Box className="actions" sx={{ position: "absolute", right: 0, bottom: 4 }}>
        <Tooltip title="Save with all it uses, as one ZIP">
          <IconButton
            aria-label={`Save ${study.name} with all it uses`}
            href={`/api/studies/${study.id}/bundle`}
            download
          >
            <SaveAltOutlined fontSize="small" />
          </IconButton>
        </Tooltip>
        <Tooltip title="Take out of the gallery">
          <IconButton
            aria-label={`Take ${study.name} out of the gallery`}
            onClick={() => void remove()}
          >
            <DeleteOutline fontSize="small" />
          </IconButton>
        </Tooltip>
      </Box>
    </Box>
  );
}
