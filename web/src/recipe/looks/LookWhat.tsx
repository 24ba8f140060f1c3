import { Box } from "@mui/material";
import { documentOf, loopOf } from "../../api/document";
import { useCatalogue } from "../../api/queries";
import { useInterface } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { StepPlace } from "../../common/values/stepPlace";
import { ValueList } from "../../common/values/ValueList";
import { ByButton } from "./ByButton";
import { ByValue } from "./ByValue";
import type { LookProps } from "./lookProps";
import { useByValue } from "./useByValue";

/** The values of a look, each of which is one everywhere, moves, or goes by value. */
export function LookWhat({ state, piece, look, words }: LookProps) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const base = `/pieces/${piece.id}/looks/${look.id}`;
  const change = useChange(state.id, `${base}/values`);
  const by = useByValue(state, piece, look);
  const entry = catalogue?.looks.find((d) => d.key === look.look);
  if (!entry) return null;
  const { frames, rate } = loopOf(documentOf(state));
  return (
    <StepPlace.Provider value={{ study: state.id, piece: piece.id, step: "" }}>
      <ValueList
        entries={entry.values}
        given={look.values ?? {}}
        lanes={words.lanes}
        path="values"
        at={`${base}/values`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={change.live}
        store={change.store}
        openSignal={() => set({ ribbon: "when" })}
        around={(name, value, row) => {
          if (!value.by_values) return row;
          const own = look.by?.find((each) => each.id === name);
          const button = (
            <ByButton
              label={value.label}
              on={own !== undefined}
              turn={(on) => void (on ? by.begin(name, value) : by.end(name, value))}
            />
          );
          return own ? (
            <ByValue
              state={state}
              piece={piece}
              look={look}
              by={own}
              value={value}
              lanes={words.lanes}
              button={button}
            />
          ) : (
            <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
              <Box sx={{ flex: 1, minWidth: 0 }}>{row}</Box>
              {button}
            </Box>
          );
        }}
      />
    </StepPlace.Provider>
  );
}
