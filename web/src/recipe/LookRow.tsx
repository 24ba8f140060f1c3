import { Box, Button } from "@mui/material";
import { client, unwrap, type StudyState } from "../api/client";
import { loopOf, type Piece, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useChange } from "../common/useStep";
import { lookColours, oneOf } from "../model/lookColours";
import { LOOK_ROW } from "../model/rowIds";
import { FoldRow } from "./FoldRow";
import { ValueList } from "./ValueList";

/** How the piece is drawn: the last row of its recipe. */
export function LookRow({ state, piece }: { state: StudyState; piece: Piece }) {
  const catalogue = useCatalogue().data;
  const [look] = piece.looks ?? [];
  const base = `/pieces/${piece.id}/looks/${look?.id}/values`;
  const change = useChange(state.id, base);
  const entry = catalogue?.looks.find((d) => d.key === look?.look);
  if (!catalogue || !entry) return null;
  const given = look?.values ?? {};
  const { frames, rate } = loopOf(documentOf(state));
  const colours = lookColours(look, catalogue);
  const strip =
    colours.length > 1 ? `linear-gradient(90deg, ${colours.join(", ")})` : oneOf(colours);
  const words = state.motion.find((m) => m.id === piece.id)?.looks[0] ?? "";
  // Moving looks are for later: what the surface shows stays still over the loop.
  const values = Object.fromEntries(
    Object.entries(entry.values).map(([name, value]) => [name, { ...value, moves: false }]),
  );
  const fit = async () => {
    const found = unwrap(
      await client.POST("/api/studies/{study_id}/pieces/{piece_id}/suggest", {
        params: { path: { study_id: state.id, piece_id: piece.id } },
        body: { sort: "look", key: entry.key, after: null },
      }),
    );
    change.edit(
      "Fit colours to the shape",
      Object.entries(found.values).map(([name, value]) => ({
        do: "set" as const,
        path: `${base}/${name}`,
        value: value as never,
      })),
    );
  };
  return (
    <FoldRow
      id={LOOK_ROW}
      title="Look"
      summary={words}
      picture={<Box sx={{ width: 58, height: 10, borderRadius: 1, background: strip }} />}
    >
      <ValueList
        entries={values}
        given={given}
        lanes={[]}
        path="look"
        at={base}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={change.live}
        store={change.store}
      />
      {(given.colour_by ?? entry.values.colour_by?.default) === "height" && (
        <Button variant="outlined" onClick={() => void fit()} sx={{ mt: 0.5 }}>
          Fit colours to the shape
        </Button>
      )}
    </FoldRow>
  );
}
