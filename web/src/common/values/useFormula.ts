import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useContext, useEffect, useState } from "react";
import { client, unwrap } from "../../api/client";
import { useInterface } from "../store/store";
import { StepPlace } from "./stepPlace";

/** How long the typing has to rest before the server is asked, in ms. */
const REST = 140;

/** What a formula that is being written would give, and of which text that is known. */
export function useFormula(text: string) {
  const place = useContext(StepPlace);
  const quality = useInterface((s) => s.quality);
  // While playing the plot stands still; it would only flicker.
  const frame = useInterface((s) => (s.playing ? null : s.frame));
  const [asked, setAsked] = useState({ text, frame: frame ?? 0 });
  useEffect(() => {
    const timer = setTimeout(
      () => setAsked((before) => ({ text, frame: frame ?? before.frame })),
      REST,
    );
    return () => clearTimeout(timer);
  }, [text, frame]);
  const found = useQuery({
    queryKey: ["formula", place, asked, quality],
    enabled: place !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 10_000,
    queryFn: async () => {
      if (place!.signal) {
        const signal = { ...place!.signal, text: asked.text };
        const { problem } = unwrap(
          await client.POST("/api/studies/{study_id}/signal", {
            params: { path: { study_id: place!.study } },
            body: { signal },
          }),
        );
        return { problem, plot: undefined, text: asked.text };
      }
      const answer = unwrap(
        await client.POST("/api/studies/{study_id}/pieces/{piece_id}/formula", {
          params: { path: { study_id: place!.study, piece_id: place!.piece } },
          body: {
            step: place!.step,
            layer: place!.layer ?? null,
            text: asked.text,
            frame: asked.frame,
            quality,
          },
        }),
      );
      return { ...answer, text: asked.text };
    },
  });
  return found.data;
}
