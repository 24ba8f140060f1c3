import { Box } from "@mui/material";
import type { StudyState } from "../api/client";
import type { Light } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { UseDot } from "../common/UseDot";
import { SceneRow } from "./SceneRow";

/** One light: a line, or with its values when it is chosen; its handles stand on the stage then. */
export function LightRow(props: { state: StudyState; light: Light; open: boolean }) {
  const { state, light, open } = props;
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const change = useChange(state.id, `/lights/${light.id}`);
  const entry = catalogue?.lights.find((d) => d.key === light.light);
  if (!entry) return null;
  const isOn = light.visible !== false;
  return (
    <SceneRow
      state={state}
      kind="light"
      part={light}
      entry={entry}
      open={open}
      toggle={() => set({ light: open ? null : light.id })}
      sign={<Dot light={light} />}
      faint={!isOn}
      removed={() => set({ light: null })}
      end={
        <UseDot
          on={isOn}
          label={`Use ${light.name}`}
          turn={(on) => change.store("visible", on, "Use or not use light")}
        />
      }
    />
  );
}

/** The colour that the light has, where it is one of the document. */
function Dot({ light }: { light: Light }) {
  const { colour, above } = light.values ?? {};
  const own = typeof colour === "string" ? colour : typeof above === "string" ? above : "#ffe9c7";
  return (
    <Box
      component="span"
      aria-hidden
      sx={{
        width: 11,
        height: 11,
        borderRadius: "50%",
        flex: "none",
        bgcolor: own,
        border: "1px solid",
        borderColor: "text.secondary",
      }}
    />
  );
}
