import type { StepWords, StudyState } from "../api/client";
import { loopOf, type Piece, type Step, documentOf } from "../api/document";
import { useCatalogue } from "../api/queries";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { StepPlace } from "../common/values/stepPlace";
import { CarriedRow } from "../common/CarriedRow";
import { ImportReport } from "./ImportReport";
import { ValueList } from "../common/values/ValueList";

interface Props {
  state: StudyState;
  piece: Piece;
  step: Step;
  words: StepWords;
}

/** The values of a step. */
export function What({ state, piece, step, words }: Props) {
  const catalogue = useCatalogue().data;
  const set = useInterface((s) => s.set);
  const change = useChange(state.id, `/pieces/${piece.id}/recipe/${step.id}/values`);
  const entry = [...(catalogue?.forms ?? []), ...(catalogue?.steps ?? [])].find(
    (d) => d.key === step.step,
  );
  if (!entry) return null;
  const { frames, rate } = loopOf(documentOf(state));
  return (
    <StepPlace.Provider value={{ study: state.id, piece: piece.id, step: step.id }}>
      <ValueList
        entries={entry.values}
        given={step.values ?? {}}
        lanes={words.lanes}
        path="values"
        at={`/pieces/${piece.id}/recipe/${step.id}/values`}
        tone="roles.what"
        frames={frames}
        rate={rate}
        live={change.live}
        store={change.store}
        openSignal={() => set({ ribbon: "when" })}
      />
      {entry.carriable && (
        <CarriedRow
          state={state}
          address={`/pieces/${piece.id}/recipe/${step.id}`}
          carried={step.carried}
        />
      )}
      {step.step === "imported" && <ImportReport state={state} piece={piece} step={step} />}
    </StepPlace.Provider>
  );
}
