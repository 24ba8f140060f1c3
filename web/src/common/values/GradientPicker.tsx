import { Box, MenuItem, Select } from "@mui/material";
import { useCatalogue } from "../../api/queries";

function Strip({ colours }: { colours: string[] }) {
  return (
    <Box
      sx={{
        width: 92,
        height: 12,
        borderRadius: 1,
        background: `linear-gradient(90deg, ${colours.join(", ")})`,
      }}
    />
  );
}

/** Gradients shown by their colours. */
export function GradientPicker(props: {
  value: string;
  label: string;
  pick: (value: string) => void;
}) {
  const gradients = useCatalogue().data?.gradients ?? [];
  return (
    <Select
      value={props.value}
      onChange={(e) => props.pick(e.target.value)}
      inputProps={{ "aria-label": props.label }}
      sx={{ "& .MuiSelect-select": { display: "flex", gap: 1, alignItems: "center" } }}
    >
      {gradients.map((g) => (
        <MenuItem key={g.key} value={g.key} sx={{ display: "flex", gap: 1 }}>
          <Strip colours={g.colours} /> {g.key}
        </MenuItem>
      ))}
    </Select>
  );
}
