import { useInterface } from "../common/store/store";
import { foldKey } from "../model/rows";

/** Whether a group of a piece is folded. */
export function folds(study: string, piece: string): (group: string) => boolean {
  const { unfolded } = useInterface.getState();
  return (group) => !unfolded[foldKey(study, piece, group)];
}
