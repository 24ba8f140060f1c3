import { Html } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, type CSSProperties } from "react";
import type { StudyState } from "../api/client";
import { useSeam } from "../api/queries";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";

// Drawn outside the page's own tree, where the theme does not reach.
const RING: CSSProperties = {
  position: "absolute",
  left: -13,
  top: -13,
  width: 26,
  height: 26,
  boxSizing: "border-box",
  borderRadius: "50%",
  border: "2px solid #ff8f6b",
  boxShadow: "0 0 0 1.5px #0009, inset 0 0 0 1.5px #0009",
};
const WORDS: CSSProperties = {
  position: "absolute",
  left: 20,
  top: -12,
  whiteSpace: "nowrap",
  font: `12px ${FIGURES}`,
  color: "#ffe9e0",
  background: "#2a1512e0",
  borderRadius: 5,
  padding: "3px 7px",
};

/** Where on each piece the loop's end is farthest from its beginning. */
export function SeamMarker({ state }: { state: StudyState }) {
  const shown = useInterface((s) => s.seamShown);
  const seams = useSeam(state.id, state.revision).data;
  const invalidate = useThree((s) => s.invalidate);
  useEffect(invalidate, [shown, seams, invalidate]);
  if (!shown) return null;
  return (seams ?? [])
    .filter((s) => s.place && s.state !== "closed")
    .map((seam) => (
      <Html
        key={seam.piece}
        position={seam.place as [number, number, number]}
        style={{ pointerEvents: "none" }}
        zIndexRange={[4, 3]}
      >
        <div data-testid="seam-place" style={RING} />
        <div style={WORDS}>
          {(seam.position_relative ?? 0) > 1e-6
            ? `jumps ${(seam.position_m ?? 0).toPrecision(2)} m`
            : `speed jumps ${((seam.velocity_relative ?? 0) * 100).toFixed(0)} %`}
        </div>
      </Html>
    ));
}
