import { ButtonBase, type ButtonBaseProps } from "@mui/material";

const PLAIN = {
  display: "inline-block",
  font: "inherit",
  letterSpacing: "inherit",
  textAlign: "inherit",
  justifyContent: "flex-start",
  userSelect: "inherit",
  "&:focus-visible": { outline: "2px solid", outlineColor: "roles.what" },
};

/** A button that looks like the text or the row that it is; a ring shows where the keyboard is. */
export function PlainButton({ sx, ...rest }: ButtonBaseProps) {
  return <ButtonBase disableRipple {...rest} sx={[PLAIN, ...(Array.isArray(sx) ? sx : [sx])]} />;
}
