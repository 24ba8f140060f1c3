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
import { Box, Button, MenuItem, Select, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { StepWords, StudyState } from "../api/client";
import type { Piece, Step } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { LayerCard } from "./LayerCard";
import { LayerSheet } from "./LayerSheet";
import { useAddLayer } from "./useAddLayer";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
}

/** The layers of a step's mask, blended in order. */
export function Where({ state, piece, step, words }: Props) {
  const catalogue = useCatalogue().data;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = useInterface((s) => s.layer);
  const base = `/pieces/${piece.id}/recipe/${step.id}/where`;
  const change = useChange(state.id, base);
  const layers = step.where?.layers ?? [];
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const add = useAddLayer(state, piece, step);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const ids = layers.map((l) => l.id);
    const to = ids.indexOf(String(over.id));
    const rest = ids.filter((id) => id !== active.id);
    change.edit("Move mask layer", [
      { do: "move", path: `${base}/layers/${active.id}`, after: rest[to - 1] ?? null },
    ]);
  };
  const open = chosen ?? layers[0]?.id ?? null;
  return (
    <Box>
      {layers.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 0.5 }}>
          It acts everywhere. Add a layer to say where.
        </Typography>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={layers.map((l) => l.id)} strategy={verticalListSortingStrategy}>
          {layers.map((layer, index) => (
            <LayerCard
              key={layer.id}
              state={state}
              piece={piece}
              step={step}
              layer={layer}
              lanes={words.lanes}
              first={index === 0}
              open={open === layer.id}
            />
          ))}
        </SortableContext>
      </DndContext>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5 }}>
        <Button onClick={(e) => setAnchor(e.currentTarget)} sx={{ color: "roles.where", px: 0.5 }}>
          + Add a layer
        </Button>
        <Box sx={{ flex: 1 }} />
        {layers.length > 0 && (
          <StoreName
            key={step.where?.store ?? ""}
            name={step.where?.store ?? ""}
            store={(name) => change.store("store", name, "Name the mask")}
          />
        )}
      </Box>
      {catalogue?.steps.find((d) => d.key === step.step)?.rigid && (
        <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, mt: 0.5 }}>
          <Typography variant="body2" sx={{ alignSelf: "center" }}>
            Moves
          </Typography>
          <Select
            value={step.where?.moves ?? "natural"}
            onChange={(e) => change.store("moves", e.target.value, "What moves")}
            inputProps={{ "aria-label": "Moves" }}
            sx={{ maxWidth: 230 }}
          >
            {catalogue.moved.map((o) => (
              <MenuItem key={o.key} value={o.key}>
                {o.label}
              </MenuItem>
            ))}
          </Select>
        </Box>
      )}
      <LayerSheet
        anchor={anchor}
        close={() => setAnchor(null)}
        pick={(key) => {
          setAnchor(null);
          void add(key);
        }}
      />
    </Box>
  );
}

/** The name under which later steps find this mask. */
function StoreName({ name, store }: { name: string; store: (name: string) => void }) {
  const [text, setText] = useState(name);
  return (
    <TextField
      variant="standard"
      placeholder="store as…"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== name && store(text)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") (e.target as HTMLElement).blur();
      }}
      slotProps={{ htmlInput: { "aria-label": "Store the mask under a name", maxLength: 60 } }}
      sx={{ width: 110 }}
    />
  );
}
