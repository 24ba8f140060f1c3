import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { client, unwrap, type JobState, type Schemas } from "../api/client";
import { listen } from "../api/events";
import { useInterface } from "../common/store/store";
import { isRunning } from "../model/jobWords";

export type Jobs = Schemas["JobList"];

const KEY = ["jobs"];
/** Asked again after so long while something is made, should a change not have been heard. */
const ASKED_MS = 4000;

/** All jobs, as they are. */
export function useQueue() {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen((event) => {
        if (event.kind !== "job") return;
        const job = event.data as unknown as JobState;
        const known = queries.getQueryData<Jobs>(KEY)?.jobs.some((each) => each.id === job.id);
        // A new one, or one less, stands somewhere in the order.
        if (!known || job.state === "removed") void queries.invalidateQueries({ queryKey: KEY });
        else take(queries, job);
      }),
    [queries],
  );
  return useQuery({
    queryKey: KEY,
    queryFn: async () => unwrap(await client.GET("/api/jobs")),
    refetchInterval: ({ state: { data } }) => (data?.jobs.some(isRunning) ? ASKED_MS : false),
    refetchOnMount: "always",
  });
}

function take(queries: QueryClient, job: JobState) {
  queries.setQueryData<Jobs>(KEY, (now) =>
    now ? { ...now, jobs: now.jobs.map((each) => (each.id === job.id ? job : each)) } : now,
  );
}

const byId = (id: string) => ({ params: { path: { job_id: id } } });

/** What can be done with jobs; what cannot is said. */
export function useJobActions() {
  const queries = useQueryClient();
  const say = useInterface((s) => s.say);
  const act = (asked: Promise<unknown>) =>
    void asked
      .then(() => queries.invalidateQueries({ queryKey: KEY }))
      .catch((error: Error) => say({ text: error.message, tone: "error" }));
  return {
    pause: (id: string) => act(client.POST("/api/jobs/{job_id}/pause", byId(id)).then(unwrap)),
    goOn: (id: string) => act(client.POST("/api/jobs/{job_id}/go-on", byId(id)).then(unwrap)),
    cancel: (id: string) => act(client.POST("/api/jobs/{job_id}/cancel", byId(id)).then(unwrap)),
    again: (id: string) => act(client.POST("/api/jobs/{job_id}/again", byId(id)).then(unwrap)),
    remove: (id: string) => act(client.DELETE("/api/jobs/{job_id}", byId(id)).then(unwrap)),
    move: (id: string, before: string | null) =>
      act(client.POST("/api/jobs/{job_id}/move", { ...byId(id), body: { before } }).then(unwrap)),
    choose: (address: string | null) =>
      act(client.PUT("/api/cluster", { body: { address } }).then(unwrap)),
    clip: (id: string, body: Schemas["MadeClipBody"]) =>
      act(client.POST("/api/jobs/{job_id}/clips", { ...byId(id), body }).then(unwrap)),
  };
}

export type JobActions = ReturnType<typeof useJobActions>;
