import * as THREE from "three";
import type { StudyState } from "../api/client";
import {
  loopOf,
  type DocValue,
  type Layer,
  type Piece,
  type Step,
  documentOf,
} from "../api/document";
import { useCatalogue } from "../api/queries";
import { useEdit } from "../common/edits";
import { useInterface, useParts, type Ribbon } from "../common/store/store";
import { layerOfLook, lookOfRow } from "../model/maskOwner";
import { ArrowHandle } from "./ArrowHandle";
import { AxisHandle } from "./AxisHandle";
import { BallHandle } from "./BallHandle";
import { BrushHandle } from "./BrushHandle";
import { CentreHandle } from "./CentreHandle";
import { CoreHandle } from "./CoreHandle";
import { matrixAt } from "./matrixAt";
import { FrontHandle } from "./FrontHandle";
import type { HandleProps } from "./handleProps";
import { heldValues } from "./heldValues";
import { PathHandle } from "./PathHandle";
import { PickHandle } from "./PickHandle";
import { PlacesHandle } from "./PlacesHandle";
import {
  AngleOutline,
  BandsOutline,
  BoxOutline,
  CylinderOutline,
  RingOutline,
} from "./SolidOutlines";
import { useShown, type Shown } from "./useStageFrames";
import { ValueGrips } from "./ValueGrips";

/** Of what the values are that stand on the stage: of a mask layer, or of a step itself.
 * below : path from the row's address to the layer, with a slash at its end */
interface Open {
  layer?: Layer;
  step?: Step;
  base: string;
  below: string;
}

function openEntry(
  piece: Piece,
  row: string | null,
  ribbon: Ribbon,
  named: string | null,
): Open | undefined {
  const look = lookOfRow(piece, row);
  if (look) {
    const [first] = ribbon === "where" ? (look.where?.layers ?? []) : [];
    const name = named ?? (first ? `where/layers/${first.id}` : null);
    const layer = layerOfLook(look, name);
    const shown = layer && name!.startsWith("by/") === (ribbon === "what");
    const base = `/pieces/${piece.id}/looks/${look.id}`;
    return shown ? { layer, base, below: `${name}/` } : undefined;
  }
  const step = piece.recipe.find((s) => s.id === row);
  if (!step) return undefined;
  const base = `/pieces/${piece.id}/recipe/${step.id}`;
  const layers = step.where?.layers ?? [];
  const layer = ribbon === "where" ? (layers.find((l) => l.id === named) ?? layers[0]) : undefined;
  return { layer, step, base, below: layer ? `where/layers/${layer.id}/` : "" };
}

/** Handles of the ribbon that is open: of the step's own space, or of its chosen mask layer. */
export function Handles({ state }: { state: StudyState }) {
  const {
    piece: active,
    step: chosen,
    ribbon,
    layer: layerId,
    playing,
  } = useParts("piece", "step", "ribbon", "layer", "playing");
  // While playing there are no handles that would have to follow.
  const frame = useInterface((s) => (s.playing ? 0 : s.frame));
  const live = useInterface((s) => s.live);
  const catalogue = useCatalogue();
  const edit = useEdit(state.id);
  const piece = documentOf(state).pieces.find((p) => p.id === active);
  // While playing frames do not reach them.
  const on = useShown((s) =>
    piece && !playing ? (s.shown[piece.id] as Shown | undefined) : undefined,
  );
  const open = piece && openEntry(piece, chosen, ribbon, layerId);
  if (!piece || !open || !on || !catalogue.data || playing) return null;
  const { layer, step, base, below } = open;
  const entry = layer
    ? catalogue.data.layers.find((d) => d.key === layer.layer)
    : [...catalogue.data.forms, ...catalogue.data.steps].find((d) => d.key === step?.step);
  if (!entry || !(entry.handle || entry.grips.length)) return null;
  const holder: Record<string, DocValue> = (layer ?? step)?.values ?? {};
  const path = `${base}/${below}values`;
  const { frames } = loopOf(documentOf(state));
  const motion = state.motion.find((m) => m.id === active);
  const words = step
    ? motion?.steps.find((w) => w.id === step.id)
    : motion?.looks.find((w) => base.endsWith(`/${w.id}`));
  const held = heldValues({
    path,
    prefix: path.slice(base.length + 1),
    holder,
    entries: entry.values,
    lanes: words?.lanes ?? [],
    live,
    frame,
    frames,
    store: (operations) => edit.mutate({ label: `Drag ${entry.title.toLowerCase()}`, operations }),
  });
  const { given } = held;
  // Where something carries it, its values are seen where it has come to.
  const bases = motion?.held[path.replace(/\/values$/, "")];
  const carried = bases && matrixAt(bases, frame, frames);
  const inPiece = holder.measured !== "space";
  const props: HandleProps = {
    ...held,
    middle: new THREE.Vector3(...on.data.header.low)
      .add(new THREE.Vector3(...on.data.header.high))
      .multiplyScalar(0.5),
    path,
    study: state.id,
    piece: piece.id,
    stepId: step?.id ?? "",
    shown: on,
    contentKey: motion?.key ?? "",
    directions: Object.entries(entry.values)
      .filter(([, v]) => v.kind === "direction")
      .filter(([, v]) => !v.shown_when || v.shown_when[1].includes(String(given(v.shown_when[0]))))
      .map(([name]) => name),
    size: Math.max(
      0.02,
      Math.hypot(...on.data.header.high.map((h, k) => h - on.data.header.low[k])) / 2,
    ),
  };
  const Kind = {
    front: FrontHandle,
    ball: BallHandle,
    axis: AxisHandle,
    centre: CentreHandle,
    core: CoreHandle,
    paths: PathHandle,
    arrows: ArrowHandle,
    box: BoxOutline,
    cylinder: CylinderOutline,
    ring: RingOutline,
    bands: BandsOutline,
    angle: AngleOutline,
    brush: BrushHandle,
    pick: PickHandle,
    places: PlacesHandle,
  }[entry.handle];
  return (
    <group
      matrixAutoUpdate={false}
      ref={(group) => {
        if (!group) return;
        if (carried) group.matrix.fromArray(carried);
        else if (inPiece) group.matrix.fromArray(on.place);
        else group.matrix.identity();
        group.matrixWorldNeedsUpdate = true;
      }}
    >
      {Kind && <Kind key={path} {...props} />}
      <ValueGrips key={`${path}/grips`} grips={entry.grips} values={entry.values} {...props} />
    </group>
  );
}
