import { Html } from "@react-three/drei";
import { useMemo } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { useInterface } from "../state/store";
import { FIGURES } from "../theme/theme";
import { figure } from "./tableState";
import { useTable } from "./useTable";

/** A column as numbers at the elements that the table's page lists. */
export function StageNumbers(props: { state: StudyState; piece: string; place: number[] }) {
  const table = useInterface((s) => s.table);
  const page = useTable(props.state, props.piece, table).data;
  const matrix = useMemo(() => new THREE.Matrix4().fromArray(props.place), [props.place]);
  if (!table?.column || table.how !== "numbers" || !page) return null;
  const column = page.columns.findIndex((c) => c.key === table.column);
  if (column < 0) return null;
  return (
    <group matrixAutoUpdate={false} matrix={matrix}>
      {page.rows.map((row, k) => (
        <Html key={row.number} position={page.places[k] as [number, number, number]} center>
          <span
            style={{
              fontFamily: FIGURES,
              fontSize: 11,
              color: "#fff",
              background: "#1411208c",
              padding: "0 3px",
              borderRadius: 3,
              pointerEvents: "none",
              whiteSpace: "nowrap",
            }}
          >
            {figure(row.values[column])}
          </span>
        </Html>
      ))}
    </group>
  );
}
