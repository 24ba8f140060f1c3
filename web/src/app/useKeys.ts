import { useLayoutEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { StudyState } from "../api/client";
import { loopOf, type KeyPoint, type Piece, type SignalValue, documentOf } from "../api/document";
import { useTakeBack } from "../common/edits";
import { useInterface } from "../common/store/store";
import { useChange } from "../common/useStep";
import { KEYS } from "../find/keys";
import { focusedByPointer } from "../find/modality";
import { copied, copy } from "../model/clipboard";
import { between, grouping, removing } from "../model/grouping";
import { keyedAt } from "../model/keyed";
import { laneValue } from "../model/lanes";
import { usePasteStep } from "../recipe/usePasteStep";
import { useKeepView } from "../common/useKeepView";
import { lanesOf } from "../timestrip/ownLanes";

// A ruler that was dragged keeps the focus; it takes the arrows, and leaves other keys.
const RULERS = { enableOnFormTags: ["slider"] } as const;

/** Binds the keys of a study's page. */
export function useKeys(state: StudyState, piece: Piece | undefined) {
  const { frames } = loopOf(documentOf(state));
  const takeBack = useTakeBack(state.id);
  const change = useChange(state.id, "");
  const ui = useInterface;
  const set = ui.getState().set;
  const steps = piece?.recipe ?? [];
  const index = () => steps.findIndex((s) => s.id === ui.getState().step);
  const goTo = (frame: number) =>
    set({ frame: ((frame % frames) + frames) % frames, playing: false });
  const by = (apart: number) => goTo(ui.getState().frame + apart);
  const keepView = useKeepView(state);
  const paste = usePasteStep(state, piece);
  const own = () => lanesOf(state, piece, ui.getState().marker);
  const keyFrames = () =>
    own()
      .flatMap((l) => l.signal?.keys?.map((k) => k.frame % frames) ?? [])
      .sort((a, b) => a - b);
  const chosenKey = () => {
    const { key } = ui.getState();
    const lane = own().find((l) => l.path === key?.path);
    const at = key && lane?.signal?.keys?.[key.index];
    return key && lane?.signal && at ? { key, signal: lane.signal, at } : null;
  };
  const writeKeys = (path: string, signal: SignalValue, keys: KeyPoint[], label: string) =>
    change.store(path.slice(1), { ...signal, keys }, label);
  const keyAll = () => {
    const at = Math.round(ui.getState().frame);
    const operations = own().flatMap(({ path, signal, lane }) => {
      const now = laneValue(lane, at, frames);
      const next = signal?.keys && now !== undefined ? keyedAt(signal, now, at) : null;
      return next ? [{ do: "set" as const, path, value: next as never }] : [];
    });
    const many = operations.length === 1 ? "1 value" : `${operations.length} values`;
    if (operations.length) change.edit(`Key ${many} at frame ${at}`, operations);
    else ui.getState().say({ text: "No value here has keys yet.", tone: "info" });
  };
  const on = (keys: string, run: () => void) =>
    [keys, (e: KeyboardEvent) => (e.preventDefault(), run())] as const;
  const options = {
    enabled: (e: KeyboardEvent) =>
      !ui.getState().lifted &&
      !(e.target as HTMLElement).closest(
        "[role=dialog],[role=menu],[role=listbox],[role=combobox]",
      ),
  };

  const withRulers = { ...options, ...RULERS };

  // A dialog that fades away keeps the focus where nothing had it before, and would swallow the
  // key pressed next: before that key, not after the screen has been drawn.
  const dialog = useInterface((s) => s.dialog);
  useLayoutEffect(() => {
    const focused = document.activeElement;
    if (!dialog && focused?.closest("[role=dialog]")) (focused as HTMLElement).blur();
  }, [dialog]);

  useHotkeys(...on(KEYS.play.keys, () => set({ playing: !ui.getState().playing })), {
    ...withRulers,
    enabled: (e) =>
      ((e.target as HTMLElement).tagName !== "BUTTON" || focusedByPointer()) && options.enabled(e),
  });
  useHotkeys(...on(KEYS.before.keys, () => by(-1)), options);
  useHotkeys(...on(KEYS.after.keys, () => by(1)), options);
  useHotkeys(...on(KEYS.tenBefore.keys, () => by(-10)), options);
  useHotkeys(...on(KEYS.tenAfter.keys, () => by(10)), options);
  useHotkeys(...on(KEYS.first.keys, () => goTo(0)), options);
  useHotkeys(...on(KEYS.last.keys, () => goTo(frames - 1)), options);
  useHotkeys(
    ...on(KEYS.keyBefore.keys, () => {
      const found = keyFrames().filter((f) => f < ui.getState().frame);
      if (found.length) goTo(found[found.length - 1]);
    }),
    withRulers,
  );
  useHotkeys(
    ...on(KEYS.keyAfter.keys, () => {
      const found = keyFrames().filter((f) => f > ui.getState().frame);
      if (found.length) goTo(found[0]);
    }),
    withRulers,
  );
  useHotkeys(
    // Whoever works on the camera keys the camera.
    ...on(KEYS.keyAll.keys, () =>
      ui.getState().sheet === "camera" ? void keepView("key") : keyAll(),
    ),
    withRulers,
  );
  useHotkeys(
    KEYS.copyKey.keys,
    () => {
      const found = chosenKey();
      if (found) set({ copiedKey: { value: found.at.value, ease: found.at.ease } });
      else if (index() > 0) {
        copy({ kind: "step", item: steps[index()] });
        ui.getState().say({ text: "The step is copied; paste it in any study.", tone: "info" });
      }
    },
    withRulers,
  );
  useHotkeys(
    KEYS.pasteKey.keys,
    () => {
      const { copiedKey, frame, key } = ui.getState();
      const lane = own().find((l) => l.path === key?.path);
      const waiting = copied();
      if (!key && waiting?.kind === "step" && steps.length) {
        paste(waiting.item, steps[index()]?.id ?? steps[steps.length - 1].id, "Paste step");
        return;
      }
      if (!copiedKey || !lane?.signal?.keys) return;
      const rest = lane.signal.keys.filter((k) => k.frame !== frame);
      const next = [...rest, { frame, ...copiedKey }].sort((a, b) => a.frame - b.frame);
      writeKeys(lane.path, lane.signal, next, "Paste key");
    },
    withRulers,
  );
  useHotkeys(
    ...on(KEYS.remove.keys, () => {
      const found = chosenKey();
      if (found && found.signal.keys!.length > 1) {
        const left = found.signal.keys!.filter((_, k) => k !== found.key.index);
        writeKeys(found.key.path, found.signal, left, "Remove key");
        set({ key: null });
        return;
      }
      const step = steps[index()];
      if (!found && step && index() > 0) {
        change.edit("Remove step", removing(piece!, step.id));
        set({ step: steps[index() - 1]?.id ?? null });
      }
    }),
    options,
  );
  useHotkeys(...on(KEYS.undo.keys, () => takeBack.mutate("undo")), RULERS);
  useHotkeys(...on(KEYS.redo.keys, () => takeBack.mutate("redo")), RULERS);
  useHotkeys(...on(KEYS.find.keys, () => set({ dialog: "find" })), { enableOnFormTags: true });
  useHotkeys(...on(KEYS.help.keys, () => set({ dialog: "keys" })), { ...withRulers, useKey: true });
  useHotkeys(
    ...on(KEYS.use.keys, () => {
      const step = steps[index()];
      if (step && index() > 0) {
        const path = `pieces/${piece!.id}/recipe/${step.id}/on`;
        change.store(path, step.on === false, "Use or not use step");
      }
    }),
    withRulers,
  );
  useHotkeys(
    ...on(KEYS.solo.keys, () => {
      const { step, solo } = ui.getState();
      if (index() > 0) set({ solo: solo === step ? null : step });
    }),
    withRulers,
  );
  useHotkeys(
    ...on(KEYS.group.keys, () => {
      const { step, upTo } = ui.getState();
      const chosen = piece ? between(piece, step, upTo) : [];
      if (!piece || !chosen.length) return;
      const { operations, group } = grouping(piece, chosen);
      change.edit("Group steps", operations);
      set({ step: null, naming: group });
    }),
    withRulers,
  );
  useHotkeys(...on(KEYS.fit.keys, () => ui.getState().fit()), withRulers);
  useHotkeys(
    ...on(KEYS.four.keys, () => ui.getState().set({ four: !ui.getState().four })),
    withRulers,
  );
  useHotkeys(...on(KEYS.heat.keys, () => set({ heat: !ui.getState().heat })), withRulers);
  const choose = (at: number) => {
    const step = steps[Math.min(steps.length - 1, Math.max(0, at))];
    if (step) set({ step: step.id, layer: null });
  };
  useHotkeys(...on(KEYS.up.keys, () => choose(index() - 1)), options);
  useHotkeys(...on(KEYS.down.keys, () => choose(index() + 1)), options);
  useHotkeys(
    KEYS.open.keys,
    () => {
      if (ui.getState().step === null && steps[0]) set({ step: steps[0].id });
    },
    options,
  );
}
