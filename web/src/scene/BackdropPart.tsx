import { Box, MenuItem, Select, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useChange } from "../common/useStep";
import { ScenePart } from "./ScenePart";

/** What is behind everything: which kind, and its values. */
export function BackdropPart({ state }: { state: StudyState }) {
  const catalogue = useCatalogue().data;
  const change = useChange(state.id, "");
  const { backdrop } = documentOf(state);
  const entry = catalogue?.backdrops.find((d) => d.key === backdrop?.backdrop);
  if (!catalogue || !entry || !backdrop) return null;
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: "84px 1fr", columnGap: 1, minHeight: 27 }}>
        <Typography variant="body2" sx={{ alignSelf: "center" }}>
          Kind
        </Typography>
        <Select
          value={backdrop.backdrop}
          onChange={(e) =>
            change.edit("Change the backdrop", [
              {
                do: "set",
                path: "/backdrop",
                value: { backdrop: e.target.value, values: {} } as never,
              },
            ])
          }
          inputProps={{ "aria-label": "Kind of backdrop" }}
          sx={{ justifySelf: "start" }}
        >
          {catalogue.backdrops.map((d) => (
            <MenuItem key={d.key} value={d.key}>
              {d.title}
            </MenuItem>
          ))}
        </Select>
      </Box>
      <ScenePart
        state={state}
        address="/backdrop"
        entries={entry.values}
        given={backdrop.values ?? {}}
      />
    </>
  );
}
