import AddIcon from "@mui/icons-material/Add";
import DarkModeOutlined from "@mui/icons-material/DarkModeOutlined";
import LightModeOutlined from "@mui/icons-material/LightModeOutlined";
import MovieFilterOutlined from "@mui/icons-material/MovieFilterOutlined";
import SaveAltOutlined from "@mui/icons-material/SaveAltOutlined";
import SlideshowOutlined from "@mui/icons-material/SlideshowOutlined";
import SearchIcon from "@mui/icons-material/Search";
import { Box, Button, IconButton, InputAdornment, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useStudies } from "../api/queries";
import { bringFiles, useFileDrop, type NewStudy } from "../common/bringFiles";
import { useCreateStudy } from "../common/edits";
import { FileButton } from "../common/FileButton";
import { Mark } from "../common/Mark";
import { useInterface } from "../common/store/store";
import { StudyCard } from "./StudyCard";

export function Gallery() {
  const studies = useStudies();
  const go = useNavigate();
  const creating = useCreateStudy();
  const create = async (body: NewStudy) => (await creating.mutateAsync(body)).id;
  const open = (id: string) => void go(`/study/${id}`);
  const [wanted, setWanted] = useState("");
  const theme = useInterface((s) => s.theme);
  const set = useInterface((s) => s.set);
  const bring = (files: File[]) => void bringFiles(files, { create, open });
  const over = useFileDrop(bring);
  const found = (studies.data ?? []).filter((s) =>
    `${s.name} ${s.note}`.toLowerCase().includes(wanted.toLowerCase()),
  );
  return (
    <Box
      component="main"
      sx={{
        maxWidth: 1240,
        mx: "auto",
        px: 4,
        py: 3,
        minHeight: "100vh",
        outline: over ? "3px dashed" : "none",
        outlineColor: "roles.what",
        outlineOffset: -12,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 4 }}>
        <Mark size={34} />
        <Typography variant="h2" component="p" sx={{ flex: 1 }}>
          Zygomorph
        </Typography>
        <Button component={Link} to="/queue" startIcon={<MovieFilterOutlined />}>
          Queue
        </Button>
        {studies.data && studies.data.length > 0 && (
          <Button
            href="/api/bundles"
            download
            startIcon={<SaveAltOutlined />}
            title="All studies, each with all it uses, in one ZIP"
          >
            Save all
          </Button>
        )}
        <IconButton
          aria-label={theme === "paper" ? "Night theme" : "Paper theme"}
          onClick={() => set({ theme: theme === "paper" ? "night" : "paper" })}
        >
          {theme === "paper" ? <DarkModeOutlined /> : <LightModeOutlined />}
        </IconButton>
      </Box>
      <Box sx={{ display: "flex", alignItems: "end", gap: 2, mb: 3, flexWrap: "wrap" }}>
        <Box sx={{ flex: 1, minWidth: 320 }}>
          <Typography variant="h1">Studies</Typography>
          <Typography color="textSecondary" sx={{ mt: 0.5 }}>
            Open one and play it, or begin with a form or a mesh of your own.
          </Typography>
        </Box>
        <TextField
          size="small"
          placeholder="Search"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
          slotProps={{
            htmlInput: { "aria-label": "Search studies" },
            input: {
              startAdornment: (
                <InputAdornment position="start">
                  <SearchIcon fontSize="small" />
                </InputAdornment>
              ),
            },
          }}
          sx={{ width: 190 }}
        />
        {found.length > 0 && (
          <Button
            variant="outlined"
            startIcon={<SlideshowOutlined />}
            title="All loops one after the other, over the whole screen"
            onClick={() => {
              // A browser that does not want to shows it in its window.
              document.documentElement.requestFullscreen().catch(() => undefined);
              void go("/reel");
            }}
          >
            Show-reel
          </Button>
        )}
        <FileButton label="Bring a file" studies bring={bring} />
        <Button
          variant="contained"
          startIcon={<AddIcon />}
          // What went wrong is said by the request itself.
          onClick={() =>
            create({ name: "New study", form: "icosphere" }).then(open, () => undefined)
          }
        >
          Start from nothing
        </Button>
      </Box>
      {studies.isError && (
        <Typography role="alert" color="error">
          The studies could not be loaded. Is the server still running? {studies.error.message}
        </Typography>
      )}
      <Box
        sx={{
          display: "grid",
          gap: 3,
          gridTemplateColumns: "repeat(auto-fill, minmax(340px, 1fr))",
        }}
      >
        {found.map((study) => (
          <StudyCard key={study.id} study={study} />
        ))}
      </Box>
      {studies.data && found.length === 0 && (
        <Box sx={{ textAlign: "center", py: 10, color: "text.secondary" }}>
          <Typography variant="h2" component="p">
            {wanted ? `No study is called “${wanted}”` : "No studies yet"}
          </Typography>
          <Typography sx={{ mt: 1 }}>
            {wanted
              ? "Try fewer letters."
              : "Start from nothing, or drop a mesh, a study or a folder of studies here."}
          </Typography>
        </Box>
      )}
    </Box>
  );
}
