import { Box, Button } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { Lane, StudyState } from "../api/client";
import type { Piece } from "../api/document";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { layerName, type MaskOwner } from "../model/maskOwner";
import { LayerCard } from "./LayerCard";
import { LayerSheet } from "./LayerSheet";
import { SortableRows } from "../common/SortableRows";
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
  const add = useAddLayer(state, piece, owner);
  const ids = layers.map((l) => l.id);
  const drop = (moved: string, over: string) => {
    const to = ids.indexOf(over);
    const rest = ids.filter((id) => id !== moved);
    change.edit("Move mask layer", [
      {
        do: "move",
        path: `${owner.at}/where/layers/${moved}`,
        after: rest[to - 1] ?? null,
      },
    ]);
  };
  const names = layers.map((l) => layerName(owner, l.id));
  const open = chosen !== null && names.includes(chosen) ? chosen : opens ? names[0] : null;
  return (
    <>
      <SortableRows ids={ids} drop={drop}>
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
      </SortableRows>
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
