import AddIcon from "@mui/icons-material/Add";
import CloseOutlined from "@mui/icons-material/CloseOutlined";
import { Box, Button, IconButton, Radio, Tooltip, Typography } from "@mui/material";
import type { StudyState } from "../api/client";
import { type Variant, documentOf } from "../api/document";
import { PlainName } from "../common/PlainName";
import { SideSheet } from "../common/SideSheet";
import { useInterface } from "../common/store/store";
import { useVariants } from "../common/useVariants";
import { switchedBy } from "../model/variantOf";

/** Variants, their options, and what each of them switches. */
export function VariantsSheet({ state }: { state: StudyState }) {
  const sheet = useInterface((s) => s.sheet);
  const variants = documentOf(state).variants ?? [];
  const { begin } = useVariants(state.id);
  if (sheet !== "variants") return null;
  return (
    <SideSheet title="Variants">
      {variants.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
          Two versions of this study can live in it side by side, and one choice switches all that
          differs between them: values, steps, pieces, looks.
        </Typography>
      )}
      {variants.map((variant) => (
        <OneVariant key={variant.id} state={state} variant={variant} />
      ))}
      <Button startIcon={<AddIcon />} variant="outlined" onClick={() => void begin()}>
        {variants.length ? "Another variant" : "Begin a variant"}
      </Button>
    </SideSheet>
  );
}

function OneVariant({ state, variant }: { state: StudyState; variant: Variant }) {
  const own = useVariants(state.id);
  const switched = switchedBy(variant);
  const path = `/variants/${variant.id}`;
  const few = variant.options.length <= 2;
  return (
    <Box data-variant={variant.id} sx={{ borderTop: "1px solid", borderColor: "divider", py: 1.5 }}>
      <PlainName
        name={variant.name}
        label="Name of the variant"
        store={(name) => own.rename(path, name)}
        sx={{ fontWeight: 600, width: "100%" }}
      />
      <Box role="radiogroup" aria-label={`Options of ${variant.name}`}>
        {variant.options.map((option) => (
          <Box key={option.id} sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
            <Radio
              size="small"
              checked={option.id === variant.chosen}
              onChange={() => void own.choose(variant.id, option.id, option.name)}
              slotProps={{ input: { "aria-label": `Choose ${option.name}` } }}
              sx={{ p: 0.5, ml: -0.5 }}
            />
            <PlainName
              name={option.name}
              label={`Name of option ${option.name}`}
              store={(name) => own.rename(`${path}/options/${option.id}`, name)}
            />
            <Tooltip title={few ? "Without a choice there is no variant: both go" : ""}>
              <IconButton
                aria-label={`Remove option ${option.name}`}
                onClick={() => void own.remove(variant.id, option.id, option.name)}
              >
                <CloseOutlined sx={{ fontSize: 15 }} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
      </Box>
      <Button
        startIcon={<AddIcon />}
        onClick={() => void own.add(variant.id)}
        sx={{ px: 0.5, color: "text.secondary" }}
      >
        An option like the chosen one
      </Button>
      <Typography variant="body2" sx={{ fontWeight: 600, mt: 1 }}>
        Switches
      </Typography>
      {switched.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          Nothing yet. Click the name of a value, or a step’s menu, and choose “differs by{" "}
          {variant.name}”. What you change then is changed for the chosen option alone.
        </Typography>
      )}
      {switched.map((address) => {
        const words = state.switched[address] ?? address;
        return (
          <Box key={address} sx={{ display: "flex", alignItems: "center" }}>
            <Typography variant="body2" sx={{ flex: 1, minWidth: 0 }} noWrap title={words}>
              {words}
            </Typography>
            <Tooltip title="The same for all options, as it is now">
              <IconButton
                aria-label={`The same for all: ${words}`}
                onClick={() => void own.same(variant.id, address, words)}
              >
                <CloseOutlined sx={{ fontSize: 15 }} />
              </IconButton>
            </Tooltip>
          </Box>
        );
      })}
    </Box>
  );
}
