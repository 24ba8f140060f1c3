import type { FrameData, FrameMesh } from "../api/frame";
import type { Heat } from "../common/useTable";
import { PieceMesh } from "./PieceMesh";
import { useShown, type Shown } from "./useStageFrames";

/** A frame whose mask is a column of the table; the same as long as both stay. */
function withColumn(data: FrameData, { shares }: Heat): FrameData {
  // Of thinned points not every one is there, and of a frame before perhaps another number.
  const { copies } = data.header;
  if (shares.length !== (copies?.count ?? data.header.drawn)) return data;
  const known = columns.get(data);
  if (known?.shares === shares) return known.made;
  const made = { ...data, meshes: data.meshes.map((mesh, k) => withMask(mesh, k, data, shares)) };
  columns.set(data, { shares, made });
  return made;
}

function withMask(mesh: FrameMesh, k: number, data: FrameData, shares: Uint8Array): FrameMesh {
  const base = data.header.copies?.bases[k];
  if (!base || !mesh.copies) return { ...mesh, mask: shares };
  const own = shares.subarray(base.first, base.first + base.count);
  return { ...mesh, copies: { ...mesh.copies, mask: own } };
}

const columns = new WeakMap<FrameData, { shares: Uint8Array; made: FrameData }>();

/** One piece as it looks at the moment; frames reach it and nothing else. */
export function ShownPiece({
  id,
  heat,
  column,
  holdout,
}: {
  id: string;
  heat: boolean;
  /** It hides what is behind it, and is nothing itself. */
  holdout: boolean;
  column: Heat | null;
}) {
  const shown = useShown((s) => s.shown[id]) as Shown | undefined;
  if (!shown) return null;
  const data = column ? withColumn(shown.data, column) : shown.data;
  return (
    <PieceMesh
      data={data}
      place={shown.place}
      showHeat={heat || column !== null}
      holdout={holdout}
    />
  );
}
