import { Box } from "@mui/material";
import { useEffect, useState } from "react";

/** How long the pointer rests on an entry before it is tried, milliseconds. */
const RESTS = 350;

/** Try an entry while the pointer or the focus rests on it: the address of its picture then. */
export function useTrial(tried: string | undefined) {
  const [over, setOver] = useState(false);
  const [address, setAddress] = useState<string | undefined>();
  useEffect(() => {
    if (!over || !tried) return setAddress(undefined);
    const timer = window.setTimeout(() => setAddress(tried), RESTS);
    return () => window.clearTimeout(timer);
  }, [over, tried]);
  const on = {
    onMouseEnter: () => setOver(true),
    onMouseLeave: () => setOver(false),
    onFocus: () => setOver(true),
    onBlur: () => setOver(false),
  };
  return { address, on };
}

/** A picture of one's own piece with an entry, over the entry's own once it is there. */
export function Tried({ address }: { address: string }) {
  const [state, setState] = useState<"drawing" | "ready" | "refused">("drawing");
  useEffect(() => setState("drawing"), [address]);
  if (state === "refused") return null;
  const words = state === "ready" ? "on your piece" : "trying it on your piece…";
  return (
    <Box sx={{ position: "absolute", inset: 0 }}>
      <Box
        component="img"
        src={address}
        alt=""
        onLoad={() => setState("ready")}
        onError={() => setState("refused")}
        sx={{
          position: "absolute",
          inset: 0,
          width: "100%",
          height: "100%",
          objectFit: "cover",
          opacity: state === "ready" ? 1 : 0,
        }}
      />
      <Box
        component="span"
        aria-hidden
        sx={{
          position: "absolute",
          left: 6,
          bottom: 6,
          px: 0.75,
          borderRadius: 1,
          fontSize: 11,
          lineHeight: 1.6,
          color: "#fffdf6",
          bgcolor: "rgba(20, 16, 28, 0.78)",
        }}
      >
        {words}
      </Box>
    </Box>
  );
}
