import { useThree } from "@react-three/fiber";
import { useEffect, useLayoutEffect, useMemo } from "react";
import * as THREE from "three";
import type { FrameData, FrameMesh, LookHeader } from "../api/frame";
import { useInterface } from "../common/store/store";
import { beforeView, shading, wholeViews } from "./beforeView";
import { leastOf, mostOf } from "./lookShader";
import { useReflected } from "./Surroundings";
import { useDetail } from "./useDetail";
import { PieceObject } from "./pieceObject";

interface Props {
  data: FrameData;
  place: number[];
  showHeat: boolean;
  holdout: boolean;
}

/** Less rough than this, or made of metal or glass, a surface shows what is around it. */
const SHINY = 0.3;

function isShiny(look: LookHeader): boolean {
  return (
    mostOf(look, "metal") > 0 ||
    mostOf(look, "glass") > 0 ||
    mostOf(look, "coat") > 0 ||
    leastOf(look, "roughness") < SHINY
  );
}

/** One mesh of a piece: its surface, edges or points, where the piece stands. */
function MeshOf({ mesh, data, place, showHeat, holdout }: Props & { mesh: FrameMesh }) {
  const draw = useInterface((s) => s.draw);
  const invalidate = useThree((s) => s.invalidate);
  const gl = useThree((s) => s.gl);
  const withTable = mesh.copies !== null;
  const object = useMemo(() => new PieceObject(withTable), [withTable]);
  const quick = useDetail((s) => s.moving && s.level > 0);
  const around = useReflected(isShiny(data.header.look) && mesh.topology.triangles.length > 0);
  useEffect(
    () => () => {
      object.dispose(gl);
      gl.shadowMap.needsUpdate = true;
      invalidate();
    },
    [object, gl, invalidate],
  );
  // Picture draws new frames at once, when all pieces have taken theirs.
  useLayoutEffect(() => {
    object.show(mesh, data);
    gl.shadowMap.needsUpdate = true;
  }, [object, mesh, data, gl]);
  useLayoutEffect(() => {
    object.holdOut(holdout);
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [object, holdout, gl, invalidate]);
  useLayoutEffect(() => {
    object.reflect(around);
    invalidate();
  }, [object, around, invalidate]);
  useEffect(() => {
    const turn = (camera: THREE.Camera) => object.turnTo(camera);
    const shade = (asQuick: boolean) => object.detail(asQuick);
    const whole = () => object.drawAll();
    wholeViews.add(whole);
    beforeView.add(turn);
    shading.add(shade);
    return () => {
      wholeViews.delete(whole);
      beforeView.delete(turn);
      shading.delete(shade);
    };
  }, [object]);
  useLayoutEffect(() => {
    object.detail(quick);
    invalidate();
  }, [object, quick, invalidate]);
  useLayoutEffect(() => {
    object.group.matrix.fromArray(place);
    object.group.matrixWorldNeedsUpdate = true;
    gl.shadowMap.needsUpdate = true;
  }, [object, place, gl]);
  const heat = showHeat && (mesh.mask ?? mesh.copies?.mask ?? null) !== null;
  useLayoutEffect(() => {
    object.uniforms.uHeat.value = heat ? 1 : 0;
    object.draw(draw === "traced" ? "surface" : draw);
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [object, draw, heat, gl, invalidate, mesh, data.header.look.drawn]);
  return <primitive object={object.group} />;
}

/** One piece on the stage, with each of the meshes that it is made of. */
export function PieceMesh(props: Props) {
  return props.data.meshes.map((mesh, number) => <MeshOf key={number} mesh={mesh} {...props} />);
}
