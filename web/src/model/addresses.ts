import type { Catalogue, ValueEntry } from "../api/client";
import type { StudyDocument } from "../api/document";

/** A number of the study that another may follow. */
export interface Addressed {
  address: string;
  piece: string;
  label: string;
}

function ofEntries(
  base: string,
  piece: string,
  prefix: string,
  entries: Record<string, ValueEntry>,
): Addressed[] {
  return Object.entries(entries).flatMap(([name, entry]) => {
    if (!entry.moves) return [];
    if (entry.kind === "number" || entry.kind === "whole")
      return [{ address: `${base}/${name}`, piece, label: `${prefix}${entry.label}` }];
    return [0, 1, 2].map((k) => ({
      address: `${base}/${name}/${k}`,
      piece,
      label: `${prefix}${entry.label} ${"xyz"[k]}`,
    }));
  });
}

/** Every number of a study that can be followed, in the order of its pieces and steps. */
export function addressesOf(document: StudyDocument, catalogue: Catalogue): Addressed[] {
  const known = [...catalogue.forms, ...catalogue.steps];
  const ofMarkers = (document.markers ?? []).flatMap((marker) =>
    ofEntries(`/markers/${marker.id}/place`, marker.name, "", catalogue.marker_values),
  );
  const ofPieces = document.pieces.flatMap((piece) => {
    const base = `/pieces/${piece.id}`;
    const steps = piece.recipe.flatMap((step, k) => {
      const entry = known.find((d) => d.key === step.step);
      const at = `${base}/recipe/${step.id}`;
      const title = `${k + 1} ${entry?.title ?? step.step}: `;
      const layers = (step.where?.layers ?? []).flatMap((layer) => {
        const own = catalogue.layers.find((d) => d.key === layer.layer);
        const here = `${at}/where/layers/${layer.id}`;
        const words = `${title}${own?.title ?? layer.layer}, `;
        return [
          ...ofEntries(`${here}/values`, piece.name, words, own?.values ?? {}),
          ...ofEntries(here, piece.name, words, catalogue.layer_values),
        ];
      });
      return [...ofEntries(`${at}/values`, piece.name, title, entry?.values ?? {}), ...layers];
    });
    const place = ofEntries(`${base}/place`, piece.name, "Place: ", catalogue.place_values);
    return [...steps, ...place];
  });
  return [...ofPieces, ...ofMarkers];
}
