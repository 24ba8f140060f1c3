import { notifyManager, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  client,
  unwrap,
  type Catalogue,
  type Operation,
  type Schemas,
  ServerError,
  type StudyState,
} from "./client";
import { listen } from "./events";
import { newest } from "./newest";
import { windowId } from "./windowId";
import { useInterface } from "../state/store";
import type { StudyDocument } from "./document";

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
  const query = { pictures: false };
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
      query.state.data?.some((s) => s.picture === "drawing") ? 700 : false,
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
      query.state.data?.some((s) => s.picture === "drawing") ? 700 : false,
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
        const newer = event.kind === "study" && event.data.id === id;
        if (newer && known && Number(event.data.revision) > known.revision) {
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

export function documentOf(state: StudyState): StudyDocument {
  return state.document as unknown as StudyDocument;
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

export interface Edit {
  label: string;
  operations: Operation[];
}

/** Store edits, one after the other, each on the newest revision this window knows. */
export function useEdit(id: string) {
  const queries = useQueryClient();
  const { setLive, setClash, say } = useInterface.getState();
  return useMutation({
    scope: { id: `edits-${id}` },
    mutationFn: async ({ label, operations }: Edit) => {
      const revision = queries.getQueryData<StudyState>(["study", id])?.revision ?? 0;
      return unwrap(
        await client.POST("/api/studies/{study_id}/edits", {
          params: { path: { study_id: id } },
          body: { window: await windowId, revision, label, operations },
        }),
      );
    },
    onMutate: () => useInterface.getState().live,
    onSuccess: (state, _edit, shown) => {
      // Both at once, or what was there before would be seen in between.
      notifyManager.batch(() => {
        queries.setQueryData(["study", id], state);
        notifyManager.schedule(() => {
          // What has been changed since is not stored yet, and stays to be seen.
          if (useInterface.getState().live === shown) setLive([]);
        });
      });
    },
    onError: (error, edit) => {
      setLive([]);
      if (error instanceof ServerError && error.body.kind === "clash") {
        setClash({ error: error.body, edit });
      } else {
        say({ text: error.message, tone: "error" });
      }
      void queries.invalidateQueries({ queryKey: ["study", id] });
    },
  });
}

type Way = "undo" | "redo";

/** clashing : what is done where another window has changed the same since; it is refused by default */
interface TakeBack {
  way: Way;
  clashing?: "skip" | "over";
}

export function useTakeBack(id: string) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: `edits-${id}` },
    mutationFn: async (asked: Way | TakeBack) => {
      const { way, clashing }: TakeBack = typeof asked === "string" ? { way: asked } : asked;
      return unwrap(
        await client.POST(`/api/studies/{study_id}/${way}`, {
          params: { path: { study_id: id } },
          body: { window: await windowId, clashing: clashing ?? "refuse" },
        }),
      );
    },
    onSuccess: (state) => queries.setQueryData(["study", id], state),
    onError: (error, asked) => {
      const { say, setClash } = useInterface.getState();
      const way = typeof asked === "string" ? asked : asked.way;
      if (error instanceof ServerError && error.status === 409)
        setClash({ error: error.body, takeBack: way });
      else say({ text: error.message, tone: "info" });
    },
  });
}

/** Store a new study. */
export function useCreateStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: {
      name?: string;
      form?: string;
      asset?: string;
      document?: Record<string, never>;
    }) => unwrap(await client.POST("/api/studies", { body })),
    onSuccess: (state) => {
      queries.setQueryData(["study", state.id], state);
      void queries.invalidateQueries({ queryKey: ["studies"] });
    },
    onError: (error) => useInterface.getState().say({ text: error.message, tone: "error" }),
  });
}

async function send<T>(kind: "assets" | "pictures" | "sounds", file: File): Promise<T> {
  const response = await fetch(`/api/${kind}?name=${encodeURIComponent(file.name)}`, {
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

/** Send a picture of heights; resolves with its digest, or throws the server's explanation. */
export const sendPicture = (file: File) => send<Schemas["PictureReport"]>("pictures", file);
