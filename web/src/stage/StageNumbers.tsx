import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { useNumbers } from "../common/useTable";
import { placed, type Numbers } from "../model/labels";
import { figure, NEW_TABLE } from "../model/tableState";
import { cameraOf, type Cameras } from "./FlatViews";
import { panesOf } from "./panes";

interface Props {
  state: StudyState;
  piece: string;
  place: number[];
  cameras: Cameras;
}

/** Their own numbers, which are no column of the table. */
const NUMBER = "#";

/** A column of the table as numbers beside its elements, or their own, as many as can be read. */
export function StageNumbers({ state, piece, place, cameras }: Props) {
  const table = useInterface((s) => s.table);
  const playing = useInterface((s) => s.playing);
  const numbered = useInterface((s) => s.numbered);
  const own = useMemo(
    () =>
      numbered ? { ...NEW_TABLE, domain: numbered, column: NUMBER, how: "numbers" as const } : null,
    [numbered],
  );
  const numbers = useNumbers(state, piece, own ?? table);
  if (!numbers || playing) return null;
  return <Written numbers={numbers} place={place} cameras={cameras} />;
}

/** A sheet over the stage on which the numbers are written after each picture. */
function Written(props: { numbers: Numbers; place: number[]; cameras: Cameras }) {
  const { numbers, place, cameras } = props;
  const { gl, size, invalidate } = useThree();
  const dpr = useThree((s) => s.viewport.dpr);
  const sheet = useMemo(() => document.createElement("canvas"), []);
  const matrix = useMemo(() => new THREE.Matrix4().fromArray(place), [place]);
  useEffect(() => {
    sheet.style.cssText = "position:absolute;inset:0;width:100%;height:100%;pointer-events:none";
    gl.domElement.parentElement?.append(sheet);
    invalidate();
    return () => sheet.remove();
  }, [sheet, gl, invalidate]);
  useEffect(() => invalidate(), [numbers, matrix, invalidate]);
  useFrame(({ camera }) => {
    sheet.width = Math.round(size.width * dpr);
    sheet.height = Math.round(size.height * dpr);
    const pen = sheet.getContext("2d");
    if (!pen) return;
    pen.scale(dpr, dpr);
    pen.font = `11px ${FIGURES}`;
    pen.textAlign = "center";
    pen.textBaseline = "middle";
    const { view, four } = useInterface.getState();
    let written = 0;
    for (const pane of panesOf(view.name, four)) {
      const eye = cameraOf(pane, cameras, camera, size);
      const width = pane.width * size.width;
      const height = pane.height * size.height;
      for (const { index, x, y } of placed(numbers, ...seenFrom(eye, matrix), width, height)) {
        const text = figure(numbers.values[index]);
        const [left, top] = [pane.left * size.width + x, pane.top * size.height + y];
        const half = pen.measureText(text).width / 2 + 3;
        pen.fillStyle = "#1411209c";
        pen.beginPath();
        pen.roundRect(left - half, top - 7.5, 2 * half, 15, 3);
        pen.fill();
        pen.fillStyle = "#ffffff";
        pen.fillText(text, left, top + 0.5);
        written += 1;
      }
    }
    sheet.dataset.numbers = String(written);
  }, 2);
  return null;
}

/** From the piece to the view, and where the eye is in the piece. */
function seenFrom(camera: THREE.Camera, piece: THREE.Matrix4) {
  const whole = camera.projectionMatrix.clone().multiply(camera.matrixWorldInverse).multiply(piece);
  const back = piece.clone().invert();
  const eye =
    camera instanceof THREE.OrthographicCamera
      ? {
          towards: camera
            .getWorldDirection(new THREE.Vector3())
            .negate()
            .transformDirection(back)
            .toArray(),
        }
      : { at: camera.position.clone().applyMatrix4(back).toArray() };
  return [whole.toArray(), eye] as const;
}
