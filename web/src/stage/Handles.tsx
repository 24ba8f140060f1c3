import type { StudyState } from "../api/client";
import type { DocValue, Layer, Step } from "../api/document";
import { documentOf, useCatalogue, useEdit } from "../api/queries";
import { useInterface } from "../state/store";
import { AxisHandle } from "./AxisHandle";
import { BallHandle } from "./BallHandle";
import { FrontHandle } from "./FrontHandle";
import type { Shown } from "./useStageFrames";

export type Triple = [number, number, number];

export interface HandleProps {
  /** The value of a component now, or null where a signal moves it. */
  number: (name: string) => number | null;
  triple: (name: string) => Triple;
  /** Change values while dragging, and store them when the drag ends. */
  change: (values: Record<string, DocValue>) => void;
  finish: () => void;
  size: number;
}

function plain(value: DocValue | undefined): number | null {
  return typeof value === "number" ? value : null;
}

/** Handles of the ribbon that is open: of the step's own space, or of its chosen mask layer. */
export function Handles({ state, shown }: { state: StudyState; shown: Record<string, Shown> }) {
  const { piece: active, step: chosen, ribbon, layer: layerId, playing } = useInterface();
  const catalogue = useCatalogue();
  const edit = useEdit(state.id);
  const piece = documentOf(state).pieces.find((p) => p.id === active);
  const step: Step | undefined = piece?.recipe.find((s) => s.id === chosen);
  const on = piece && shown[piece.id];
  if (!piece || !step || !on || !catalogue.data || playing) return null;
  const layers = step.where?.layers ?? [];
  const layer: Layer | undefined =
    ribbon === "where" ? (layers.find((l) => l.id === layerId) ?? layers[0]) : undefined;
  const entry = layer
    ? catalogue.data.layers.find((d) => d.key === layer.layer)
    : catalogue.data.steps.find((d) => d.key === step.step);
  if (!entry?.handle) return null;
  const holder: Record<string, DocValue> = (layer ? layer.values : step.values) ?? {};
  const base = `/pieces/${piece.id}/recipe/${step.id}`;
  const path = layer ? `${base}/where/layers/${layer.id}/values` : `${base}/values`;
  const given = (name: string) => holder[name] ?? (entry.values[name]?.default as DocValue);
  const inPiece = holder.measured !== "space";
  const props: HandleProps = {
    number: (name) => plain(given(name)),
    triple: (name) => (given(name) as DocValue[]).map((v) => plain(v) ?? 0) as Triple,
    change: (values) =>
      useInterface.getState().set({
        dragging: true,
        live: Object.entries(values).map(([name, value]) => ({
          do: "set" as const,
          path: `${path}/${name}`,
          value: value as never,
        })),
      }),
    finish: () => {
      const { live, set } = useInterface.getState();
      set({ dragging: false });
      if (live.length)
        edit.mutate({ label: `Drag ${entry.title.toLowerCase()}`, operations: live });
    },
    size: Math.max(
      0.02,
      Math.hypot(...on.data.header.high.map((h, k) => h - on.data.header.low[k])) / 2,
    ),
  };
  const Kind = { front: FrontHandle, ball: BallHandle, axis: AxisHandle }[entry.handle];
  if (!Kind) return null;
  return (
    <group
      matrixAutoUpdate={false}
      ref={(group) => {
        if (!group) return;
        if (inPiece) group.matrix.fromArray(on.place);
        else group.matrix.identity();
        group.matrixWorldNeedsUpdate = true;
      }}
    >
      <Kind key={`${step.id}/${layer?.id ?? ""}`} {...props} />
    </group>
  );
}
