import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client } from "./client";
import type { components } from "./types.gen";

export type QueuedSweep = components["schemas"]["QueuedSweep"];
export type QueueChange = components["schemas"]["QueueChange"];

const KEY = ["queue"];
/** Milliseconds between two readings of the line-up while something is in it. */
const OFTEN = 1000;
const SELDOM = 5000;

/** Every sweep that waits or runs, of all studies. */
export function useQueue() {
  return useQuery({
    queryKey: KEY,
    queryFn: () => answered(client.GET("/api/queue")),
    refetchInterval: (query) => (query.state.data?.length ? OFTEN : SELDOM),
  });
}

/** Another order, pauses, going on; or a stop of everything. */
export function useQueueChange() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (change: QueueChange | "stop all") =>
      answered(change === "stop all" ? client.DELETE("/api/queue") : client.PATCH("/api/queue", { body: change })),
    onSuccess: (queue) => {
      queries.setQueryData(KEY, queue);
      void queries.invalidateQueries({ queryKey: ["study"] });
    },
  });
}
