import { ButtonBase, type ButtonBaseProps } from "@mui/material";

const PLAIN = {
  display: "inline-block",
  font: "inherit",
  letterSpacing: "inherit",
  textAlign: "inherit",
  justifyContent: "flex-start",
  userSelect: "inherit",
};

/** A button that looks like the text or the row that it is. */
export function PlainButton({ sx, ...rest }: ButtonBaseProps) {
  return <ButtonBase disableRipple {...rest} sx={[PLAIN, ...(Array.isArray(sx) ? sx : [sx])]} />;
}
