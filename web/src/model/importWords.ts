import type { Schemas } from "../api/client";

function figure(n: number, one: string, many: string): string {
  return `${n.toLocaleString("en")} ${n === 1 ? one : many}`;
}

/** What a file held. */
export function readWords(read: Schemas["FileReport"]): string {
  if (read.curves)
    return `${figure(read.curves, "outline", "outlines")} of ${figure(read.points, "point", "points")}`;
  const counts =
    read.faces === 0
      ? `${figure(read.points, "loose point", "loose points")} and no faces`
      : `${figure(read.points, "point", "points")} and ${figure(read.faces, "face", "faces")}`;
  const joined = read.joined_points
    ? `; ${figure(read.joined_points, "doubled point was", "doubled points were")} joined`
    : "";
  const dropped = read.dropped_faces
    ? `; ${figure(read.dropped_faces, "face", "faces")} without a surface left out`
    : "";
  const notes = (read.notes ?? []).map((note) => `; ${note.replace(/\.$/, "")}`).join("");
  return counts + joined + dropped + notes;
}

/** What came of a file with studies, a line each. */
export function broughtWords(brought: Schemas["BroughtStudy"][]): string {
  const lines = brought.map(({ filename, name, error, missing, presets }) => {
    if (error) return `${filename}: ${error}`;
    const came = presets ? ` ${figure(presets, "preset", "presets")} came with it.` : "";
    const lacks = missing
      ? ` ${figure(missing, "file", "files")} it uses ${missing === 1 ? "is" : "are"} nowhere.`
      : "";
    return `“${name}” is in the gallery.${came}${lacks}`;
  });
  return lines.join("\n");
}

/** The sides of the box around it, in metres. */
export function sizeWords(size: number[]): string {
  const figures = size.map((s) => s.toLocaleString("en", { maximumSignificantDigits: 3 }));
  return `${figures.join(" × ")} m`;
}
