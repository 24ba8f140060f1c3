import type * as THREE from "three";
import type { Held } from "./heldValues";
import type { Shown } from "./useStageFrames";

/** What every handle of an entry is given. */
export interface HandleProps extends Held {
  size: number;
  /** Middle of the piece. */
  middle: THREE.Vector3;
  /** Where all values of this entry are in the document. */
  path: string;
  study: string;
  piece: string;
  stepId: string;
  shown: Shown;
  /** Content key of what is stored. */
  contentKey: string;
  /** The directions that are read at present. */
  directions: string[];
}
