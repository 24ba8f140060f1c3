import { InputBase, type SxProps, type Theme } from "@mui/material";

interface Props {
  name: string;
  label: string;
  store: (name: string) => void;
  sx?: SxProps<Theme>;
  /** It is being named from the start; told when that is over. */
  focused?: boolean;
  done?: () => void;
}

/** A name, changed where it stands. */
export function PlainName({ name, label, store, sx = {}, focused, done }: Props) {
  return (
    <InputBase
      key={name}
      defaultValue={name}
      autoFocus={focused}
      onFocus={(e) => focused && e.target.select()}
      onKeyDown={(e) => {
        e.stopPropagation();
        const field = e.target as HTMLInputElement;
        if (e.key === "Escape") field.value = name;
        if (e.key === "Enter" || e.key === "Escape") field.blur();
      }}
      onBlur={(e) => {
        const next = e.target.value.trim();
        if (next && next !== name) store(next);
        else e.target.value = name;
        done?.();
      }}
      inputProps={{ "aria-label": label, maxLength: 120 }}
      sx={[
        {
          flex: 1,
          "& input": { p: 0, textOverflow: "ellipsis" },
          borderBottom: "1px solid transparent",
          "&:hover, &:focus-within": { borderColor: "divider" },
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
