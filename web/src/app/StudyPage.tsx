import { Box, Button, Typography } from "@mui/material";
import { useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ServerError, type StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useStudy } from "../api/queries";
import { bringFiles, useFileDrop } from "../common/bringFiles";
import { useCreateStudy } from "../common/edits";
import { noteReturning, returning } from "../common/store/returning";
import { useInterface } from "../common/store/store";
import { DeliverDialog } from "../deliver/DeliverDialog";
import { KeyList } from "../find/KeyList";
import { AddStep, useAddRelief } from "../recipe/AddStep";
import { ChooseForm } from "../recipe/ChooseForm";
import { FrontDialog } from "../recipe/FrontDialog";
import { Recipe } from "../recipe/Recipe";
import { useAddFile } from "../recipe/useAddPiece";
import { ClashDialog } from "../study/ClashDialog";
import { Regions } from "../study/Regions";
import { HistoryDialog } from "../study/HistoryDialog";
import { TimeStrip } from "../timestrip/TimeStrip";
import { FindAnything } from "./FindAnything";
import { Stage } from "./StageArea";
import { TopBand } from "./TopBand";
import { useKeys } from "./useKeys";

export function StudyPage() {
  const { id = "" } = useParams();
  const study = useStudy(id);
  const open = useInterface((s) => s.open);
  useEffect(() => {
    const before = returning(id);
    // That is the stage's.
    delete before.eye;
    open(before);
    return useInterface.subscribe(({ piece, step, ribbon, layer, frame, four, playing }, was) => {
      const moved = was.frame !== frame && !playing;
      const chose = was.piece !== piece || was.step !== step || was.layer !== layer;
      if (moved || chose || was.ribbon !== ribbon || was.four !== four || was.playing !== playing)
        noteReturning(id, { piece, step, ribbon, layer, frame, four });
    });
  }, [id, open]);
  if (study.isError && !study.data) {
    const gone = study.error instanceof ServerError && study.error.status === 404;
    return (
      <Box sx={{ p: 8, textAlign: "center" }} role="alert">
        <Typography variant="h1">
          {gone ? "This study is not here" : "It could not be opened"}
        </Typography>
        <Typography color="textSecondary" sx={{ my: 2 }}>
          {study.error.message}
        </Typography>
        <Button component={Link} to="/" variant="contained">
          To the gallery
        </Button>
      </Box>
    );
  }
  if (!study.data) {
    return (
      <Box sx={{ height: "100vh", display: "grid", placeItems: "center", color: "text.secondary" }}>
        Opening the study…
      </Box>
    );
  }
  return <Worktable key={id} state={study.data} />;
}

/** Recipe on the left, stage on the right, time strip under both. */
function Worktable({ state }: { state: StudyState }) {
  const go = useNavigate();
  const chosen = useInterface((s) => s.piece);
  const set = useInterface((s) => s.set);
  const document = documentOf(state);
  const piece = document.pieces.find((p) => p.id === chosen) ?? document.pieces[0];
  // Only when the document has changed: a piece that was just added may be chosen before it is
  // there.
  useEffect(() => {
    const now = useInterface.getState().piece;
    if (!document.pieces.some((p) => p.id === now)) set({ piece: document.pieces[0]?.id ?? null });
  }, [document, set]);
  const create = useCreateStudy();
  const addPiece = useAddFile(state.id);
  const addRelief = useAddRelief(state, piece);
  const bring = (files: File[]) =>
    void bringFiles(files, {
      create: async (body) => (await create.mutateAsync(body)).id,
      open: (id) => void go(`/study/${id}`),
      addPiece,
      addRelief: piece && addRelief,
    });
  const over = useFileDrop(bring);
  useKeys(state, piece);
  return (
    <Box
      component="main"
      sx={{
        height: "100vh",
        display: "grid",
        gridTemplateRows: "48px minmax(0, 1fr)",
        overflow: "hidden",
      }}
    >
      <TopBand state={state} />
      <Regions
        recipe={<Recipe state={state} piece={piece} />}
        stage={<Stage state={state} />}
        strip={<TimeStrip state={state} piece={piece} />}
      />
      <AddStep state={state} piece={piece} />
      <ChooseForm state={state} piece={piece} bring={bring} />
      <FrontDialog state={state} piece={piece} />
      <FindAnything state={state} piece={piece} />
      <KeyList />
      <DeliverDialog state={state} />
      <HistoryDialog state={state} />
      <ClashDialog study={state.id} />
      {over && (
        <Box
          sx={{
            position: "fixed",
            inset: 0,
            zIndex: 2000,
            display: "grid",
            placeItems: "center",
            bgcolor: "#14112099",
            color: "#fff",
            typography: "h2",
            pointerEvents: "none",
          }}
        >
          Drop the mesh to add it to this study
        </Box>
      )}
    </Box>
  );
}
