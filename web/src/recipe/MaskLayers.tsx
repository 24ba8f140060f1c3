import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { Box, Button } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { Lane, StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { layerName, type MaskOwner } from "../model/maskOwner";
import { LayerCard } from "./LayerCard";
import { LayerSheet } from "./LayerSheet";
import { useAddLayer } from "./useAddLayer";

interface Props {
  state: StudyState;
  piece: Piece;
  owner: MaskOwner;
  lanes: Lane[];
  /** Which is unfolded where none was chosen. */
  opens?: boolean;
  /** Colour of what is pressed here. */
  tone?: string;
  /** What stands beside the button that adds a layer. */
  children?: ReactNode;
}

/** The layers of a mask, blended in order: dragged, unfolded one at a time, added. */
export function MaskLayers({ state, piece, owner, lanes, opens = true, tone, children }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = useInterface((s) => s.layer);
  const change = useChange(state.id, `${owner.at}/where`);
  const { layers } = owner;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const add = useAddLayer(state, piece, owner);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const ids = layers.map((l) => l.id);
    const to = ids.indexOf(String(over.id));
    const rest = ids.filter((id) => id !== active.id);
    change.edit("Move mask layer", [
      {
        do: "move",
        path: `${owner.at}/where/layers/${active.id}`,
        after: rest[to - 1] ?? null,
      },
    ]);
  };
  const names = layers.map((l) => layerName(owner, l.id));
  const open = chosen !== null && names.includes(chosen) ? chosen : opens ? names[0] : null;
  return (
    <>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={layers.map((l) => l.id)} strategy={verticalListSortingStrategy}>
          {layers.map((layer, index) => (
            <LayerCard
              key={layer.id}
              state={state}
              piece={piece}
              owner={owner}
              layer={layer}
              lanes={lanes}
              first={index === 0}
              open={open === names[index]}
            />
          ))}
        </SortableContext>
      </DndContext>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5 }}>
        <Button
          onClick={(e) => setAnchor(e.currentTarget)}
          sx={{ color: tone ?? "roles.where", px: 0.5 }}
        >
          + Add a layer
        </Button>
        <Box sx={{ flex: 1 }} />
        {children}
      </Box>
      <LayerSheet
        anchor={anchor}
        close={() => setAnchor(null)}
        inLook={owner.inLook}
        pick={(key) => {
          setAnchor(null);
          void add(key);
        }}
      />
    </>
  );
}
