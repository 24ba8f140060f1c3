import CallSplit from "@mui/icons-material/CallSplit";
import { Button, MenuItem, Select, ToggleButton, ToggleButtonGroup, Tooltip } from "@mui/material";
import type { StudyState } from "../api/client";
import { type Variant, documentOf } from "../api/document";
import { useParts } from "../common/store/store";
import { useVariants } from "../common/useVariants";
import { ICON_WHERE_NARROW, WideOnly } from "../common/WideOnly";

/** How many options stand side by side; more are a list. */
const SIDE_BY_SIDE = 3;

/** The first variants of a study, switched by one click, and the way to all of them. */
export function VariantPills({ state }: { state: StudyState }) {
  const { sheet, set } = useParts("sheet", "set");
  const variants = documentOf(state).variants ?? [];
  return (
    <>
      <Tooltip title="Variants: one choice that switches several values">
        <Button
          variant="outlined"
          startIcon={<CallSplit sx={{ transform: "rotate(90deg)" }} />}
          aria-pressed={sheet === "variants"}
          onClick={() => set({ sheet: sheet === "variants" ? null : "variants" })}
          sx={{ px: 1.25, ...ICON_WHERE_NARROW }}
        >
          <WideOnly>{variants.length === 1 ? variants[0].name : "Variants"}</WideOnly>
        </Button>
      </Tooltip>
      {variants.length === 1 && <Options state={state} variant={variants[0]} />}
    </>
  );
}

/** The options of a variant, of which one is chosen. */
export function Options({ state, variant }: { state: StudyState; variant: Variant }) {
  const { choose } = useVariants(state.id);
  const pick = (id: string | null) => {
    const option = variant.options.find((o) => o.id === id);
    if (option && id !== variant.chosen) void choose(variant.id, option.id, option.name);
  };
  const long = variant.options.reduce((n, o) => n + o.name.length, 0) > 26;
  if (variant.options.length > SIDE_BY_SIDE || long) {
    return (
      <Select
        value={variant.chosen}
        onChange={(e) => pick(e.target.value)}
        inputProps={{ "aria-label": variant.name }}
        sx={{ maxWidth: 170 }}
      >
        {variant.options.map((o) => (
          <MenuItem key={o.id} value={o.id}>
            {o.name}
          </MenuItem>
        ))}
      </Select>
    );
  }
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={variant.chosen}
      onChange={(_, id: string | null) => pick(id)}
      aria-label={variant.name}
    >
      {variant.options.map((o) => (
        <ToggleButton key={o.id} value={o.id}>
          {o.name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
