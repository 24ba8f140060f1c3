import { useEffect, useRef } from "react";

/** Brings the row that it stands in into view when that is unfolded. */
export function IntoView() {
  const mark = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    mark.current?.parentElement?.scrollIntoView({ block: "nearest" });
  }, []);
  return <span ref={mark} hidden />;
}
