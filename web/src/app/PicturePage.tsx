import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import { drawPictures } from "../stage/drawPictures";

/** Begun once, however often the page is shown. */
const begun = new Set<string>();

/** A page that draws the pictures of a job; it stands in a hidden frame, or in a window of its own. */
export function PicturePage() {
  const { job = "" } = useParams();
  const queries = useQueryClient();
  const [said, setSaid] = useState("Drawing…");
  useEffect(() => {
    if (begun.has(job)) return;
    begun.add(job);
    drawPictures(job, queries).then(
      () => setSaid("Drawn."),
      (error: unknown) => setSaid(error instanceof Error ? error.message : String(error)),
    );
  }, [job, queries]);
  return <p data-testid="picture-page">{said}</p>;
}
