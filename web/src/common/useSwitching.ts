import type { StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { variantOf } from "../model/variantOf";
import type { Action } from "./ActionMenu";
import { useInterface } from "./store/store";
import { useVariants } from "./useVariants";

/** Actions that let something differ between the options of a variant, or be the same again.
 *
 * off : nothing there can differ */
export function useSwitching(
  state: StudyState,
  address: string,
  label: string,
  off = false,
): Action[] {
  const variants = useVariants(state.id);
  const document = documentOf(state);
  const variant = variantOf(document, address);
  if (off) return [];
  if (variant) {
    const isMarked = variant.options.some((o) => o.kept && address in o.kept);
    const said = isMarked ? "The same for all of" : "Switched by";
    return [
      {
        label: `${said} “${variant.name}”`,
        off: !isMarked,
        run: () => void variants.same(variant.id, address, label),
      },
    ];
  }
  const known = document.variants ?? [];
  if (known.length)
    return known.map((v) => ({
      label: `Differs by “${v.name}”`,
      run: () => void variants.differ(v.id, address, label),
    }));
  return [
    {
      label: "Differs in a new variant",
      run: () =>
        void variants.begin().then(async (id) => {
          await variants.differ(id, address, label);
          useInterface.getState().set({ sheet: "variants" });
        }),
    },
  ];
}
