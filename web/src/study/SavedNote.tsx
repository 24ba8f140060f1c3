import { Typography } from "@mui/material";
import { useIsMutating } from "@tanstack/react-query";
import { useEffect, useState } from "react";

const STEPS: [number, Intl.RelativeTimeFormatUnit][] = [
  [60, "second"],
  [60, "minute"],
  [24, "hour"],
  [Infinity, "day"],
];
const words = new Intl.RelativeTimeFormat("en", { numeric: "auto" });

/** How long ago a moment was, in words. */
export function ago(milliseconds: number): string {
  let span = Math.max(0, Math.round(milliseconds / 1000));
  if (span < 5) return "just now";
  for (const [size, unit] of STEPS) {
    if (span < size) return words.format(-span, unit);
    span = Math.floor(span / size);
  }
  return "";
}

/** Nothing needs saving: says that the last change is stored, and since when. */
export function SavedNote({ changed }: { changed: string }) {
  const [now, setNow] = useState(() => Date.now());
  const saving = useIsMutating() > 0;
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 5000);
    return () => window.clearInterval(timer);
  }, []);
  const then = Date.parse(changed);
  return (
    <Typography
      variant="body2"
      color="textSecondary"
      noWrap
      sx={{ "@media (max-width: 1039px)": { display: "none" } }}
      title={Number.isNaN(then) ? undefined : new Date(then).toLocaleString()}
    >
      {saving || Number.isNaN(then) ? "saving…" : `saved · ${ago(Math.max(now, then) - then)}`}
    </Typography>
  );
}
