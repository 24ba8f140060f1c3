import type { StudyState, ValueEntry } from "../../api/client";
import type { DocValue, Look, Piece } from "../../api/document";
import { useInterface } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { suggested } from "../useAddLayer";

/** What a value goes by at first; its layer is exchanged for another in a moment. */
const BEGINS = "height";

/** Ways to let a value of a look go by value, and to make it one again. */
export function useByValue(state: StudyState, piece: Piece, look: Look) {
  const base = `/pieces/${piece.id}/looks/${look.id}/by`;
  const change = useChange(state.id, base);
  const begin = async (name: string, value: ValueEntry) => {
    const { say, set } = useInterface.getState();
    try {
      const values = await suggested(state.id, piece.id, BEGINS, null);
      const layer = { id: "layer1", layer: BEGINS, profile: "linear", values };
      change.edit(`${value.label} by value`, [
        {
          do: "insert",
          path: base,
          after: look.by?.at(-1)?.id ?? null,
          item: {
            id: name,
            values: ends(value, look.values?.[name]),
            where: { layers: [layer] },
          } as never,
        },
      ]);
      set({ layer: null });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  const end = (name: string, value: ValueEntry) =>
    change.edit(`${value.label}: one everywhere`, [{ do: "remove", path: `${base}/${name}` }]);
  return { begin, end };
}

/** From the low end of the ruler to what the value was, or to the high end where that is the same. */
function ends(value: ValueEntry, given: DocValue | undefined): Record<string, DocValue> {
  if (!value.by_values?.low) return {};
  const [least, most] = value.soft;
  const now = typeof given === "number" ? given : Number(value.default);
  return now > least ? { low: least, high: now } : { low: least, high: most };
}
