import type { StepWords, StudyState } from "../../api/client";
import type { Look, Piece } from "../../api/document";

/** What the sides of a look are given. */
export interface LookProps {
  state: StudyState;
  piece: Piece;
  look: Look;
  words: StepWords;
}
