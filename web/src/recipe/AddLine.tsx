import { useInterface } from "../common/store/store";
import { PlainButton } from "../common/PlainButton";

/** The thin line between two rows that offers a new step there. */
export function AddLine({ after, last }: { after: string; last: boolean }) {
  const set = useInterface((s) => s.set);
  return (
    <PlainButton
      onClick={() => set({ dialog: "add", addAfter: after })}
      sx={{
        display: "block",
        width: "100%",
        height: last ? 20 : 9,
        mt: last ? 0 : "-5px",
        mb: last ? 0 : "-4px",
        position: "relative",
        zIndex: 1,
        textAlign: "center",
        fontSize: 12,
        lineHeight: last ? "20px" : "9px",
        cursor: "pointer",
        color: last ? "text.secondary" : "transparent",
        "&:hover, &:focus-visible": { color: "roles.what", bgcolor: "roles.quiet" },
      }}
    >
      + add a step here
    </PlainButton>
  );
}
