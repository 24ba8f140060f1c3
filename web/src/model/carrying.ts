import type { Carried, Layer, StudyDocument } from "../api/document";

export interface CarriedThing {
  /** As edits address it. */
  address: string;
  piece?: string;
  step?: string;
  layer?: string;
  marker?: string;
  light?: string;
  camera?: string;
  carried: Carried;
}

/** Everything of a study that something carries. */
export function carriedIn(document: StudyDocument): CarriedThing[] {
  const found: CarriedThing[] = [];
  const note = (thing: Omit<CarriedThing, "carried">, carried?: Carried | null) => {
    if (carried) found.push({ ...thing, carried });
  };
  for (const { id, carried } of document.markers ?? [])
    note({ address: `/markers/${id}`, marker: id }, carried);
  for (const { id, carried } of document.lights ?? [])
    note({ address: `/lights/${id}`, light: id }, carried);
  for (const { id, carried } of document.cameras ?? [])
    note({ address: `/cameras/${id}`, camera: id }, carried);
  for (const piece of document.pieces) {
    note({ address: `/pieces/${piece.id}`, piece: piece.id }, piece.carried);
    for (const step of piece.recipe) {
      const at = { address: `/pieces/${piece.id}/recipe/${step.id}`, piece: piece.id };
      note({ ...at, step: step.id }, step.carried);
      for (const layer of step.where?.layers ?? [])
        note(
          {
            ...at,
            address: `${at.address}/where/layers/${layer.id}`,
            step: step.id,
            layer: layer.id,
          },
          layer.carried,
        );
    }
  }
  return found;
}

/** What may carry a piece, a marker or a camera: all that it does not carry itself, directly or through
 * others. A step or layer of a piece may be carried by anything but that piece. */
export function carriersFor(document: StudyDocument, address: string) {
  const things = carriedIn(document);
  const isIt = (by: "piece" | "marker" | "camera", id: string): boolean => {
    if (address === `/${by}s/${id}`) return true;
    const above = things.find((t) => t.address === `/${by}s/${id}`)?.carried;
    return above !== undefined && above.by !== "layer" && isIt(above.by, above.id);
  };
  const own = address.split("/").length > 3 ? address.split("/")[2] : null;
  return {
    pieces: document.pieces.filter((p) => p.id !== own && !isIt("piece", p.id)),
    markers: (document.markers ?? []).filter((m) => !isIt("marker", m.id)),
    cameras: (document.cameras ?? []).filter((c) => !isIt("camera", c.id)),
  };
}

/** Layers of a mask that may carry one of them. */
export function layersFor(layers: Layer[], id: string): Layer[] {
  const isIt = (layer: Layer | undefined): boolean =>
    layer !== undefined &&
    (layer.id === id ||
      (layer.carried?.by === "layer" && isIt(layers.find((l) => l.id === layer.carried!.id))));
  return layers.filter((l) => !isIt(l));
}
