import { Checkbox, FormControlLabel, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { Choose, Figure, Help, Row } from "./formRows";
import type { GeometryKind } from "./kinds";

type Body = Schemas["DeliverBody"];

/** What is chosen for meshes; texts are as they are written. */
export interface GeometryChoice {
  quality: "draft" | "final";
  /** % of the piece's size. */
  tolerance: string;
  numbers: NonNullable<Body["numbers"]>;
  copiesAs: NonNullable<Body["copies_as"]>;
  normals: boolean;
  colours: boolean;
  first: string;
  last: string;
}

/** How the points of a GLB are stored. */
const NUMBERS: Record<GeometryChoice["numbers"], [string, string]> = {
  plain: ["Plain", "32-bit floats: every reader of glTF takes them."],
  compact: ["Compact", "About half as large, for readers that know KHR_mesh_quantization."],
};
/** How a GLB has copies. */
const COPIES: Record<GeometryChoice["copiesAs"], [string, string]> = {
  nodes: ["A node for each", "Copies may move; every reader of glTF takes them."],
  instances: [
    "Instances in one node",
    "Much smaller, for copies that stand still and readers that know EXT_mesh_gpu_instancing.",
  ],
};
/** One file of the whole loop. */
const WHOLE: GeometryKind[] = ["glb", "usd", "model-page", "cache"];

const named = <T extends string>(words: Record<T, [string, string]>) =>
  (Object.entries(words) as [T, [string, string]][]).map(([key, [label]]): [T, string] => [
    key,
    label,
  ]);

interface Props {
  kind: GeometryKind;
  chosen: GeometryChoice;
  choose: (change: Partial<GeometryChoice>) => void;
  hasCopies: boolean;
}

export function GeometryOptions({ kind, chosen, choose, hasCopies }: Props) {
  const shapes = kind === "glb" || kind === "model-page";
  const check = (name: "colours" | "normals") => (
    <FormControlLabel
      control={
        <Checkbox checked={chosen[name]} onChange={(e) => choose({ [name]: e.target.checked })} />
      }
      label={name}
    />
  );
  return (
    <>
      <Row label="Quality">
        <Choose
          label="Quality"
          value={chosen.quality}
          options={[
            ["draft", "Draft, as on the stage"],
            ["final", "Final"],
          ]}
          pick={(quality) => choose({ quality })}
        />
      </Row>
      {shapes && (
        <>
          <Row label="Largest error">
            <Figure
              label="Largest error, % of the size"
              value={chosen.tolerance}
              put={(tolerance) => choose({ tolerance })}
            />
            <Typography variant="body2">% of the piece’s size</Typography>
          </Row>
          {kind === "glb" && (
            <>
              <Row label="Numbers">
                <Choose
                  label="Numbers"
                  value={chosen.numbers}
                  options={named(NUMBERS)}
                  pick={(numbers) => choose({ numbers })}
                />
              </Row>
              <Help>{NUMBERS[chosen.numbers][1]}</Help>
            </>
          )}
        </>
      )}
      {kind === "glb" && hasCopies && (
        <>
          <Row label="Copies">
            <Choose
              label="Copies"
              value={chosen.copiesAs}
              options={named(COPIES)}
              pick={(copiesAs) => choose({ copiesAs })}
            />
          </Row>
          <Help>{COPIES[chosen.copiesAs][1]}</Help>
        </>
      )}
      {kind === "usd" && (
        <>
          <Row label="With">
            {check("colours")}
            {check("normals")}
          </Row>
          <Help>
            Where they move, each is as large as the positions. Without normals a reader finds its
            own, or draws flat faces.
          </Help>
        </>
      )}
      {!WHOLE.includes(kind) && (
        <Row label="Frames">
          <Figure label="First frame" value={chosen.first} put={(first) => choose({ first })} />
          <Figure label="Last frame" value={chosen.last} put={(last) => choose({ last })} />
        </Row>
      )}
    </>
  );
}

/** What is asked of the server. */
export function geometryBody(study: string, kind: GeometryKind, chosen: GeometryChoice): Body {
  return {
    study,
    kind,
    quality: chosen.quality,
    frames: WHOLE.includes(kind) ? null : [Number(chosen.first), Number(chosen.last)],
    tolerance: kind === "glb" || kind === "model-page" ? Number(chosen.tolerance) / 100 : null,
    numbers: chosen.numbers,
    copies_as: chosen.copiesAs,
    normals: chosen.normals,
    colours: chosen.colours,
  };
}
