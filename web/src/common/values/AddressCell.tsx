import { Autocomplete, TextField } from "@mui/material";
import { useNumbersToFollow } from "../../api/queries";
import { useStateAround } from "./useStateAround";

interface Props {
  value: string;
  label: string;
  pick: (address: string) => void;
}

/** Another value of the study, found by typing. */
export function AddressCell({ value, label, pick }: Props) {
  const { state } = useStateAround();
  const options = useNumbersToFollow(state?.id, state?.revision);
  const chosen = options.find((o) => o.address === value) ?? null;
  return (
    <Autocomplete
      size="small"
      options={options}
      value={chosen}
      groupBy={(o) => o.owner}
      getOptionLabel={(o) => o.label}
      isOptionEqualToValue={(a, b) => a.address === b.address}
      onChange={(_, found) => pick(found?.address ?? "")}
      renderInput={(params) => (
        <TextField
          {...params}
          variant="standard"
          placeholder={value && !chosen ? "a value that is gone" : "which value?"}
          onKeyDown={(e) => e.stopPropagation()}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps?.htmlInput, "aria-label": label },
          }}
        />
      )}
      sx={{ flex: 1, minWidth: 0 }}
    />
  );
}
