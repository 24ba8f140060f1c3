import AddIcon from "@mui/icons-material/Add";
import ContentCopy from "@mui/icons-material/ContentCopyOutlined";
import ContentPaste from "@mui/icons-material/ContentPasteOutlined";
import MoreHoriz from "@mui/icons-material/MoreHoriz";
import MyLocation from "@mui/icons-material/MyLocationOutlined";
import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import VisibilityOff from "@mui/icons-material/VisibilityOffOutlined";
import Visibility from "@mui/icons-material/VisibilityOutlined";
import { Box, Button, Divider, IconButton, Menu, MenuItem, Typography } from "@mui/material";
import { useState, type MouseEvent } from "react";
import type { StudyState } from "../api/client";
import { type Marker, type Piece, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { PlainName } from "../common/PlainName";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { copied, copy, fresh } from "../model/clipboard";
import { lookColours, oneOf } from "../model/lookColours";
import { markerItems } from "./MarkerItems";
import { PieceMenu } from "./PieceMenu";
import { useAttach } from "../common/useAttach";

/** The piece's name, with a list of all pieces behind it. */
export function PieceHeader(props: {
  state: StudyState;
  piece: Piece | undefined;
  marker: Marker | undefined;
}) {
  const { state, piece, marker } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const set = useInterface((s) => s.set);
  const catalogue = useCatalogue().data;
  const change = useChange(state.id, "/pieces");
  const { remove } = useAttach(state.id);
  const pieces = documentOf(state).pieces;
  const dot = (p: Piece) => (
    <Box
      sx={{
        width: 10,
        height: 10,
        borderRadius: 5,
        bgcolor: oneOf(lookColours(p.looks?.[0], catalogue)),
        flex: "none",
      }}
    />
  );
  const waiting = anchor ? copied() : null;
  const paste = (copy: Piece) => {
    const ids = pieces.map((p) => p.id);
    const item = fresh(copy, "piece", ids);
    change.edit(`Paste ${item.name}`, [
      { do: "insert", path: "/pieces", after: ids.at(-1) ?? null, item: item as never },
    ]);
    set({ piece: item.id, step: null, solo: null, layer: null });
    setAnchor(null);
  };
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const openMenu = (event: MouseEvent<HTMLElement>) => {
    event.preventDefault();
    const box = event.currentTarget.getBoundingClientRect();
    setMenu({ x: box.left, y: box.bottom });
  };
  const naming = useInterface((s) => s.naming);
  const named = !marker && piece?.id === naming ? piece : null;
  const number = pieces.findIndex((p) => p.id === piece?.id) + 1;
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        px: 1.75,
        height: 42,
        borderBottom: "1px solid",
        borderColor: "divider",
        flex: "none",
      }}
    >
      {named && (
        <PlainName
          name={named.name}
          label="Name of the piece"
          focused
          store={(name) => change.store(`${named.id}/name`, name, "Rename piece")}
          done={() => set({ naming: null })}
          sx={{ typography: "h3", mr: 1 }}
        />
      )}
      <Button
        onClick={(e) => setAnchor(e.currentTarget)}
        onContextMenu={openMenu}
        aria-haspopup="menu"
        sx={{
          px: 0.75,
          ml: -0.75,
          gap: 1,
          borderRadius: 2,
          minWidth: 0,
          display: named ? "none" : undefined,
        }}
      >
        {marker ? <MyLocation sx={{ fontSize: 16 }} /> : piece && dot(piece)}
        <Typography variant="h3" component="span" noWrap sx={{ maxWidth: 170 }}>
          {marker?.name ?? piece?.name ?? "No piece"}
        </Typography>
        <Typography variant="body2" component="span" color="textSecondary" noWrap>
          ▾{" "}
          {marker
            ? "marker"
            : `${number || 0} of ${pieces.length} ${pieces.length === 1 ? "piece" : "pieces"}`}
        </Typography>
      </Button>
      {piece && !marker && !named && (
        <>
          <IconButton aria-label={`Actions for ${piece.name}`} onClick={openMenu}>
            <MoreHoriz fontSize="small" />
          </IconButton>
          <PieceMenu at={menu} close={() => setMenu(null)} state={state} piece={piece} />
        </>
      )}
      <Box sx={{ flex: 1 }} />
      {piece && !marker && (
        <Button
          startIcon={<AddIcon />}
          onClick={() => set({ dialog: "add", addAfter: piece.recipe.at(-1)?.id ?? null })}
        >
          Step
        </Button>
      )}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {pieces.map((p) => (
          <MenuItem
            key={p.id}
            selected={p.id === piece?.id && !marker}
            onClick={() => {
              set({ piece: p.id, step: null, solo: null, layer: null, marker: null });
              setAnchor(null);
            }}
            sx={{ gap: 1, minWidth: 270 }}
          >
            {dot(p)}
            <Box sx={{ flex: 1 }}>{p.name}</Box>
            <IconButton
              aria-label={p.visible === false ? `Show ${p.name}` : `Hide ${p.name}`}
              onClick={(e) => {
                e.stopPropagation();
                change.store(`${p.id}/visible`, p.visible === false, "Show or hide piece");
              }}
            >
              {p.visible === false ? (
                <VisibilityOff fontSize="inherit" />
              ) : (
                <Visibility fontSize="inherit" />
              )}
            </IconButton>
            <IconButton
              aria-label={`Copy ${p.name}`}
              onClick={(e) => {
                e.stopPropagation();
                copy({ kind: "piece", item: p });
                setAnchor(null);
              }}
            >
              <ContentCopy fontSize="inherit" />
            </IconButton>
            <IconButton
              aria-label={`Remove ${p.name}`}
              onClick={(e) => {
                e.stopPropagation();
                void remove(`/pieces/${p.id}`, "Remove piece");
                set({ piece: null, step: null });
                setAnchor(null);
              }}
            >
              <DeleteOutline fontSize="inherit" />
            </IconButton>
          </MenuItem>
        ))}
        <Divider />
        <MenuItem
          onClick={() => {
            set({ dialog: "piece" });
            setAnchor(null);
          }}
          sx={{ gap: 1 }}
        >
          <AddIcon fontSize="inherit" /> Add a piece…
        </MenuItem>
        {waiting?.kind === "piece" && (
          <MenuItem onClick={() => paste(waiting.item)} sx={{ gap: 1 }}>
            <ContentPaste fontSize="inherit" /> Paste “{waiting.item.name}”
          </MenuItem>
        )}
        {markerItems({ state, close: () => setAnchor(null) })}
      </Menu>
    </Box>
  );
}
