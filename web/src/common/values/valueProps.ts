import type { Lane, ValueEntry } from "../../api/client";
import type { DocValue } from "../../api/document";

/** What the editor of a value is given. */
export interface ValueProps {
  name: string;
  entry: ValueEntry;
  value: DocValue | undefined;
  /** Lanes of this value's components, by path inside the step. */
  lanes: Lane[];
  path: string;
  /** Of the value in the document, where it stands there by itself. */
  address?: string;
  tone: string;
  frames: number;
  rate: number;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
  openSignal?: () => void;
}
