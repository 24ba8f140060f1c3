import { useEffect, useState } from "react";
import { client, unwrap, type Schemas } from "../api/client";
import { windowId } from "../api/windowId";
import { pause } from "../common/pause";

export interface TracedPicture {
  /** Address of the picture; null before the first. */
  shown: string | null;
  /** Paths of light of each pixel; null before the first, 0 of a coarse first look. */
  samples: number | null;
  /** So many when it is as fine as it becomes. */
  of: number;
  error: string | null;
}

const NOTHING: TracedPicture = { shown: null, samples: null, of: 0, error: null };
/** A view rests when nothing has changed for so long. */
const RESTS_MS = 180;
/** After a server that could not be reached. */
const AGAIN_MS = 1500;

export type Wanted = Omit<Schemas["PreviewBody"], "window"> & { study: string };

/** The picture of what is wanted, finer and finer; null asks for none. What is wanted may be another
 * each time, as long as its key says the same of the same. */
export function useTracedPicture(key: string | null, wanted: () => Wanted): TracedPicture {
  const [found, setFound] = useState({ key, picture: NOTHING });
  useEffect(() => {
    if (key === null) return;
    const left = new AbortController();
    const put = (part: Partial<TracedPicture>) => {
      if (left.signal.aborted) return;
      setFound((before) => {
        const known = before.key === key ? before.picture : NOTHING;
        if (part.shown && known.shown) URL.revokeObjectURL(known.shown);
        return { key, picture: { ...known, ...part } };
      });
    };
    void follow(wanted, put, left.signal);
    return () => left.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return found.key === key && key !== null ? found.picture : NOTHING;
}

async function follow(
  wanted: () => Wanted,
  put: (part: Partial<TracedPicture>) => void,
  signal: AbortSignal,
) {
  await pause(RESTS_MS);
  let id = "";
  while (!signal.aborted) {
    try {
      const { study, ...asked } = wanted();
      const told = unwrap(
        await client.POST("/api/studies/{study_id}/previews", {
          params: { path: { study_id: study } },
          body: { ...asked, window: await windowId },
          signal,
        }),
      );
      id = told.id;
      put({ of: told.samples, error: null });
      await takeAll(id, told.samples, put, signal);
      return;
    } catch (error) {
      if (signal.aborted) break;
      put({ error: (error as Error).message });
      // Only a server that is not there is asked again: the same study fails again.
      if (!(error instanceof TypeError)) return;
      await pause(AGAIN_MS);
    }
  }
  if (id)
    void client.DELETE("/api/previews/{preview_id}", { params: { path: { preview_id: id } } });
}

async function takeAll(
  id: string,
  of: number,
  put: (part: Partial<TracedPicture>) => void,
  signal: AbortSignal,
) {
  let after = 0;
  let samples = 0;
  while (samples < of) {
    const response = await fetch(`/api/previews/${encodeURIComponent(id)}?after=${after}`, {
      signal,
    });
    if (response.status === 204) continue;
    if (!response.ok) unwrap({ error: await response.json(), response });
    after = Number(response.headers.get("X-Number"));
    samples = Number(response.headers.get("X-Samples"));
    put({ shown: URL.createObjectURL(await response.blob()), samples });
  }
}
