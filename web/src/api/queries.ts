import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { client, unwrap, type Catalogue, type Schemas, type StudyState } from "./client";
import type { paths } from "./schema.gen";
import { listen } from "./events";
import { newest } from "./newest";
import { windowId } from "./windowId";

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: async () => unwrap(await client.GET("/api/catalogue")) as Catalogue,
    staleTime: Infinity,
  });
}

export function useStudies() {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen((event) => {
        if (event.kind !== "job") void queries.invalidateQueries({ queryKey: ["studies"] });
      }),
    [queries],
  );
  return useQuery({
    queryKey: ["studies"],
    queryFn: async () => unwrap(await client.GET("/api/studies")).studies,
    // Nobody heard of changes while a study was open.
    refetchOnMount: "always",
  });
}

/** All studies with their names; no pictures are drawn for it. */
export async function readStudyNames() {
  const query = { thumbnails: false };
  return unwrap(await client.GET("/api/studies", { params: { query } })).studies;
}

/** Names of all studies, for a page on which none of their pictures is seen. */
export function useStudyNames(open: string) {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen((event) => {
        const own = event.kind === "study" && event.data.id === open;
        if (!own && event.kind !== "job")
          void queries.invalidateQueries({ queryKey: ["study names"] });
      }),
    [queries, open],
  );
  const found = useQuery({
    queryKey: ["study names"],
    queryFn: readStudyNames,
    // Nobody heard of changes while none was open.
    refetchOnMount: "always",
  });
  return found.data ?? [];
}

/** What is said while the first start on a machine still compiles; else nothing. */
export function useCompiling(): string {
  const found = useQuery({
    queryKey: ["health"],
    queryFn: async () => unwrap(await client.GET("/api/health")).compiling,
    refetchInterval: ({ state: { data } }) => (data && data.done < data.total ? 1000 : false),
    staleTime: Infinity,
  });
  const { done, total } = found.data ?? { done: 0, total: 0 };
  return done < total ? `Getting ready for this machine, once: ${done} of ${total}` : "";
}

/** Moving pictures of what forms and steps do; asked again while some are still drawn. */
export function useSpecimens() {
  const found = useQuery({
    queryKey: ["specimens"],
    queryFn: async () => unwrap(await client.GET("/api/specimens")).specimens,
    refetchInterval: (query) =>
      query.state.data?.some((s) => s.thumbnail_state === "drawing") ? 700 : false,
  });
  return found.data ?? [];
}

/** Steps that are kept to be used again; asked again while pictures of some are still drawn. */
export function usePresets() {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen((event) => {
        if (event.kind === "presets") void queries.invalidateQueries({ queryKey: ["presets"] });
      }),
    [queries],
  );
  const found = useQuery({
    queryKey: ["presets"],
    queryFn: async () => unwrap(await client.GET("/api/presets")).presets,
    refetchInterval: (query) =>
      query.state.data?.some((s) => s.thumbnail_state === "drawing") ? 700 : false,
  });
  return found.data ?? [];
}

async function loadStudy(id: string): Promise<StudyState> {
  const window = await windowId;
  return unwrap(
    await client.GET("/api/studies/{study_id}", {
      params: { path: { study_id: id }, query: { window } },
    }),
  );
}

export function useStudy(id: string) {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen((event) => {
        const known = queries.getQueryData<StudyState>(["study", id]);
        const own = event.kind === "study" && event.data.id === id;
        // What sticks to surfaces is told again when all of the loop is known.
        const more = event.data.places || Number(event.data.revision) > (known?.revision ?? 0);
        if (own && known && more) {
          void queries.invalidateQueries({ queryKey: ["study", id] });
        }
        if (event.kind === "hello") void queries.invalidateQueries({ queryKey: ["study", id] });
      }),
    [queries, id],
  );
  return useQuery({
    queryKey: ["study", id],
    queryFn: async () =>
      newest(await loadStudy(id), queries.getQueryData<StudyState>(["study", id])),
    retry: false,
  });
}

export function useSeam(id: string, revision: number) {
  return useQuery({
    queryKey: ["seam", id, revision],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/seam", { params: { path: { study_id: id } } }),
      ).seams,
    placeholderData: (before) => before,
    retry: false,
  });
}

/** Every number of a study that another may follow. */
export function useNumbersToFollow(id: string | undefined, revision: number | undefined) {
  const found = useQuery({
    queryKey: ["numbers to follow", id, revision],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/numbers", {
          params: { path: { study_id: id! } },
        }),
      ).numbers,
    enabled: id !== undefined,
    placeholderData: (before) => before,
  });
  return found.data ?? [];
}

async function send<T>(
  kind: "assets" | "images" | "films" | "sounds" | "clips" | "bundles",
  file: File,
  more: Record<string, string> = {},
): Promise<T> {
  const query = new URLSearchParams({ name: file.name, ...more });
  const response = await fetch(`/api/${kind}?${query.toString()}`, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: file,
  });
  const body = await response.json();
  return unwrap<T>({ data: body, error: body, response });
}

/** Send a mesh file; resolves with what was read, or throws the server's explanation. */
export const sendMesh = (file: File) => send<Schemas["AssetReport"]>("assets", file);

/** Send a sound; resolves with its digest, or throws the server's explanation. */
export const sendSound = (file: File) => send<Schemas["SoundReport"]>("sounds", file);

/** Send a picture; resolves with its digest, or throws the server's explanation. */
export const sendImage = (file: File) => send<Schemas["ImageReport"]>("images", file);

/** Send a film, or a ZIP of pictures; it takes as long as decoding it does. */
export const sendFilm = (file: File) => send<Schemas["ImageReport"]>("films", file);

/** Send a study with all it uses, or a ZIP of such; resolves with what came of each. */
export const sendBundle = (file: File) => send<Schemas["BroughtList"]>("bundles", file);

type ClipQuery = NonNullable<paths["/api/clips"]["post"]["parameters"]["query"]>;

/** Send pictures in a ZIP, or a clip, to be encoded; resolves with the job that does it. */
export function sendClip(file: File, query: ClipQuery) {
  const told = Object.entries(query).filter(([, value]) => value !== null && value !== undefined);
  const more = Object.fromEntries(told.map(([name, value]) => [name, String(value)]));
  return send<Schemas["JobState"]>("clips", file, more);
}
