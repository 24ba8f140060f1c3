import { Box } from "@mui/material";
import type { ReactNode } from "react";
import type { Lane, StudyState, ValueEntry } from "../../api/client";
import { documentOf, loopOf, type By, type Look, type Piece } from "../../api/document";
import { useCatalogue } from "../../api/queries";
import { useInterface } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { ValueName } from "../../common/values/ValueName";
import { ValueRow } from "../../common/values/ValueRow";
import { byOwner } from "../../model/maskOwner";
import { MaskLayers } from "../MaskLayers";

interface Props {
  state: StudyState;
  piece: Piece;
  look: Look;
  by: By;
  value: ValueEntry;
  lanes: Lane[];
  button: ReactNode;
}

/** A value of a look that goes by value: its gradient or its range, and by what it goes. */
export function ByValue({ state, piece, look, by, value, lanes, button }: Props) {
  const set = useInterface((s) => s.set);
  const layers = useCatalogue().data?.layers;
  const ofColour = value.kind === "colour";
  const owner = { ...byOwner(piece, look, by), ofColour };
  const withPicture = owner.layers.some(
    (layer) => layers?.find(({ key }) => key === layer.layer)?.coloured,
  );
  const change = useChange(state.id, `${owner.at}/values`);
  const { frames, rate } = loopOf(documentOf(state));
  const entries = Object.entries(value.by_values ?? {});
  const row = ([name, entry]: [string, ValueEntry]) => (
    <ValueRow
      key={name}
      name={name}
      entry={entry}
      value={by.values?.[name]}
      lanes={lanes}
      path={`${owner.below}values/${name}`}
      address={`${owner.at}/values/${name}`}
      tone="roles.what"
      frames={frames}
      rate={rate}
      live={(v) => change.live(name, v)}
      store={(v, label) =>
        change.store(name, v, label ?? `${value.label}: ${entry.label.toLowerCase()}`)
      }
      openSignal={() => set({ ribbon: "when" })}
    />
  );
  const asPictured = withPicture && by.values?.coloured === "picture";
  const gradient = entries.find(([, entry]) => entry.kind === "gradient" && !asPictured);
  const others = entries.filter(
    ([name, entry]) => entry.kind !== "gradient" && (name !== "coloured" || withPicture),
  );
  return (
    <Box
      role="group"
      aria-label={`${value.label} by value`}
      data-by={by.id}
      sx={{ borderRadius: 1, bgcolor: "roles.quiet", px: 0.75, py: 0.25, my: 0.5, mx: -0.75 }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          {gradient ? (
            row([gradient[0], { ...gradient[1], label: value.label }])
          ) : (
            <Box sx={{ minHeight: 27, display: "flex", alignItems: "center" }}>
              <ValueName entry={value} value={value.default as never} lanes={[]} path="" />
            </Box>
          )}
        </Box>
        {button}
      </Box>
      {others.map(row)}
      <MaskLayers
        state={state}
        piece={piece}
        owner={owner}
        lanes={lanes}
        opens={false}
        tone="roles.what"
      />
    </Box>
  );
}
