import { Box } from "@mui/material";
import type { ReactNode } from "react";
import type { StudyState, ValueEntry } from "../api/client";
import { documentOf, loopOf, type DocValue } from "../api/document";
import { SignalEditor } from "../common/signals/SignalEditor";
import { useChange } from "../common/useStep";
import { StepPlace } from "../common/values/stepPlace";
import { ValueList } from "../common/values/ValueList";

interface Props {
  state: StudyState;
  /** Of a light, a camera, the backdrop, the ground or the finish. */
  address: string;
  entries: Record<string, ValueEntry>;
  given: Record<string, DocValue>;
  children?: ReactNode;
}

/** The values of a part of the scene, and the signals that move them. */
export function ScenePart({ state, address, entries, given, children }: Props) {
  const change = useChange(state.id, `${address}/values`);
  const { frames, rate } = loopOf(documentOf(state));
  const lanes = state.scene.parts.find((part) => part.address === address)?.lanes ?? [];
  return (
    <StepPlace.Provider value={{ study: state.id, piece: "", step: "" }}>
      <ValueList
        entries={entries}
        given={given}
        lanes={lanes}
        path="values"
        at={`${address}/values`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={change.live}
        store={change.store}
      />
      {children}
      {lanes.length > 0 && (
        <Box sx={{ borderTop: "1px dotted", borderColor: "divider", mt: 0.75, pt: 0.75 }}>
          {lanes.map((lane) => (
            <SignalEditor
              key={lane.path}
              state={state}
              piece=""
              step=""
              base={address}
              lane={lane}
            />
          ))}
        </Box>
      )}
    </StepPlace.Provider>
  );
}
