import type { ValueEntry } from "../api/client";
import { isPair, isSignal, type DocValue, type Piece, type Scalar } from "../api/document";
import { figure } from "./parse";

function one(value: Scalar, quality: "draft" | "final"): string {
  const inner = isPair(value) ? value[quality] : value;
  return isSignal(inner) ? "moving" : figure(Number(inner));
}

/** Where a piece stands, in words: what differs from how it was made. */
export function placeWords(
  piece: Piece,
  entries: Record<string, ValueEntry>,
  quality: "draft" | "final",
): string {
  const said = Object.entries(piece.place ?? {}).flatMap(([name, value]: [string, DocValue]) => {
    const entry = entries[name];
    if (!entry || JSON.stringify(value) === JSON.stringify(entry.default)) return [];
    const parts = (Array.isArray(value) ? (value as Scalar[]) : [value as Scalar]).map((v) =>
      one(v, quality),
    );
    const even = parts.every((part) => part === parts[0]);
    const figures = even && name === "scale" ? parts[0] : parts.join(", ");
    const unit = figures === "moving" ? "" : entry.unit === "°" ? "°" : ` ${entry.unit}`;
    return [`${entry.label.toLowerCase()} ${figures}${unit}`];
  });
  if (piece.carried) said.push("carried");
  return said.length ? said.join(", ") : "as it was made";
}
