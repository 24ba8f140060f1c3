import { CssBaseline, ThemeProvider } from "@mui/material";
import { useMemo } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { useLessMotion } from "../common/lessMotion";
import { useInterface } from "../common/store/store";
import { makeTheme } from "../common/theme";
import { DrawingFrames } from "../deliver/DrawingFrames";
import { Gallery } from "../gallery/Gallery";
import { QueuePage } from "../queue/QueuePage";
import { StageCanvas } from "../stage/StageCanvas";
import { Notices } from "../study/Notices";
import { PicturePage } from "./PicturePage";
import { ReelPage } from "./ReelPage";
import { StudyPage } from "./StudyPage";

export function App() {
  const name = useInterface((s) => s.theme);
  const still = useLessMotion();
  const theme = useMemo(() => makeTheme(name, still), [name, still]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <BrowserRouter>
        <Routes>
          <Route path="/study/:id" element={<StudyPage />} />
          <Route path="/reel" element={<ReelPage />} />
          <Route path="/queue" element={<QueuePage />} />
          <Route path="/picture/:job" element={<PicturePage />} />
          <Route path="*" element={<Gallery />} />
        </Routes>
        <StageCanvas />
        <DrawingFrames />
        <Notices />
      </BrowserRouter>
    </ThemeProvider>
  );
}
