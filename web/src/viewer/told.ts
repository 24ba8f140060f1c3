/** What the page tells of the study, as zygomorph/jobs/pages/scene.py writes it. */
export interface Told {
  name: string;
  /** Of the loop. */
  seconds: number;
  view: {
    position: [number, number, number];
    target: [number, number, number];
    /** Degrees from the lower to the upper edge of a picture of this form. */
    angle: number;
    aspect: number;
  };
  exposure: number;
  /** Address of a picture of what is behind everything. */
  backdrop: string;
  lamps: Lamp[];
  ground: { kind: "none" | "shadow" | "plane" | "mirror"; level: number | null } & Surface;
}

interface Surface {
  shadow: number;
  colour: string;
  roughness: number;
}

interface Placed {
  colour: string;
  strength: number;
  shadow: boolean;
}

export type Lamp =
  | ({ kind: "sun"; towards: number[] } & Placed)
  | ({ kind: "point"; position: number[] } & Placed)
  | ({ kind: "spot"; position: number[]; target: number[]; angle: number; edge: number } & Placed)
  | ({
      kind: "area";
      position: number[];
      target: number[];
      width: number;
      height: number;
      radiance: number;
    } & Placed)
  | { kind: "sky"; towards: number[]; colour: string; below: string; strength: number }
  | { kind: "dome"; harmonics: number[][] };
