import { Box } from "@mui/material";
import { useRef } from "react";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { useColumnHeat } from "../common/useTable";
import { FindingsSheet } from "../findings/FindingsSheet";
import { FrameGuides } from "../stage/FrameGuides";
import { HeatScale } from "../stage/HeatScale";
import { KeptLayer } from "../stage/KeptLayer";
import { PaneLabels } from "../stage/PaneLabels";
import { useBackdrop } from "../stage/useBackdrop";
import { useStageCanvas } from "../stage/StageCanvas";
import { StageOverlay } from "../stage/StageOverlay";
import { useShown } from "../stage/useStageFrames";
import { useWorking } from "../stage/useWorking";
import { CameraSheet } from "../scene/CameraSheet";
import { LightSheet } from "../scene/LightSheet";
import { VariantsSheet } from "../study/VariantsSheet";
import { TracedView } from "../stage/TracedView";
import { TablePanel } from "../table/TablePanel";

/** The 3D view, and what stands over it; only the scene is made anew with every frame. */
export function Stage({ state }: { state: StudyState }) {
  const document = documentOf(state);
  const active = useInterface((s) => s.piece);
  const piece = active ?? document.pieces[0]?.id;
  const table = useInterface((s) => s.table);
  const column = useColumnHeat(state, piece, table);
  const place = useRef<HTMLElement>(null);
  useStageCanvas(place, state);
  useWorking(state.id);
  const loading = useShown(
    ({ shown }) => !document.pieces.some((p) => p.visible !== false && shown[p.id]),
  );
  const background = useBackdrop(state);
  return (
    <Box
      component="section"
      aria-label="Stage"
      data-testid="stage"
      sx={{ display: "flex", flexDirection: "column", minWidth: 0, minHeight: 0 }}
    >
      <Box
        ref={place}
        sx={{ position: "relative", flex: 1, minHeight: 0, overflow: "hidden", background }}
      >
        <KeptLayer />
        <TracedView state={state} place={place} />
        <FrameGuides state={state} />
        <PaneLabels />
        <StageOverlay state={state} empty={document.pieces.length === 0} loading={loading} />
        {column && <HeatScale heat={column} />}
        <FindingsSheet state={state} />
        <VariantsSheet state={state} />
        <LightSheet state={state} />
        <CameraSheet state={state} />
      </Box>
      <TablePanel state={state} piece={piece} />
    </Box>
  );
}
